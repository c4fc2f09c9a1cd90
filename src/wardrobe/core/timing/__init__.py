"""Time: the steps of the job and their share of the planned minutes."""
