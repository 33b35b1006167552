"""Records that last: followed, listed, taken along, brought back, erased."""
