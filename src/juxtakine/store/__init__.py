"""What is kept: routines, clips, jobs and results in MariaDB, files in the media folder."""
