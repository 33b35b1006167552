"""The demo school: our own and fictional. People, aircraft types, registrations and places are made up."""
