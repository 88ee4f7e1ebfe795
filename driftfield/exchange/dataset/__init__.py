"""The exchange tables as a partitioned Parquet data set, on a disk or an object store."""
