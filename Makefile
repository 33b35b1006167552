PYTHON ?= python3

.PHONY: demo demo-fresh test check layout outside schemas api bench shots
demo demo-fresh test check layout outside schemas api bench shots:
	@$(PYTHON) tools/run.py $@
