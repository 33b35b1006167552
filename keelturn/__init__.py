"""Keel Turn's core: what aerobatic and recovery figures cost in height. Numbers in, numbers out."""
