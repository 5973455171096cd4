"""What a maker does: one module per room, each function one transaction's worth of work on a session."""
