PYTHON ?= python3

.PHONY: demo demo-fresh backup restore load attack mutate test check layout outside schemas api bench shots
demo demo-fresh backup restore load attack mutate test check layout outside schemas api bench shots:
	@$(PYTHON) tools/run.py $@
