"""Every variable at a glance: its shape, its kinds of nothing, and what stands out."""
