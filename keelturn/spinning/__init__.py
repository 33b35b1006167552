"""The spin as motion: angle of attack and rotation beside the point mass."""
