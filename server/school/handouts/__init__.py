"""What leaves the program on paper or as a file: the card, the plan, the booking. Drawn from computed
answers; nothing is computed here."""
