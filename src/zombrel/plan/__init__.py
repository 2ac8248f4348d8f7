"""The work order: tasks from the job, their order, times that learn, the day."""
