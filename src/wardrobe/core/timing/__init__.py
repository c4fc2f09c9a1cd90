"""Time: the steps of the job, plans, the clock, pace, estimates, and advice on breaks."""
