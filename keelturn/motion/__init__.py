"""The motion room: state, equations of motion, one integrator, and the legs that a figure is made of."""
