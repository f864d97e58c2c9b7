"""The studio: keeps kits and recordings, serves them, runs jobs. It decides nothing about drums; `drumcore` does."""
