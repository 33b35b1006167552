"""The schools of recovery as ordered control steps, and the legs they fly."""
