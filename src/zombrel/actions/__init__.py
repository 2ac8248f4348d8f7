"""What can be done to a job, each as ``Job -> Edit`` with a name: screens show and ask, no more."""
