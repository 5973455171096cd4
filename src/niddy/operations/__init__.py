"""Running Niddy on a machine: the database cluster, the front-end build, serving, testing, pictures, the bench."""
