"""Open formats in and out: the exchange tables as a Tabular Data Package. Knows no Django."""
