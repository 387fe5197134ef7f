"""The rules of the job and their computation: no Flask, no database, no files, no clock."""
