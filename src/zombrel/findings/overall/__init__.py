"""Rules about the job as a whole: its facts, what its devices fit and are set to, how far it is."""
