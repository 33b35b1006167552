PYTHON ?= python3

.PHONY: demo demo-fresh test check bench shots
demo demo-fresh test check bench shots:
	@$(PYTHON) tools/run.py $@
