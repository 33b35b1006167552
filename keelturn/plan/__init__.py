"""The whole flight: document, chain, ground, answers, checks, proposal and briefing."""
