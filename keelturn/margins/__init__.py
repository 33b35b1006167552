"""What must hold for a figure: its spread, what decides it, its gate, its floors, its checks."""
