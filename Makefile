PYTHON ?= python3

.PHONY: demo demo-fresh backup restore load attack mutate test test-long check layout outside schemas api bench score shots
demo demo-fresh backup restore load attack mutate test test-long check layout outside schemas api bench score shots:
	@$(PYTHON) tools/run.py $@
