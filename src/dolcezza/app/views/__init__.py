"""The screens of the job, one file each; none knows another."""
