"""Rules over whole columns: the meaning of the engine, worked out by polars."""
