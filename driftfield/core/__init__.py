"""The job's rules and computation: arrays in, arrays out. Knows neither Django nor files."""
