"""Who may do what, what is stored, what is signed. Calls the core; computes nothing itself."""
