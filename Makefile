PYTHON ?= python3

.PHONY: demo demo-fresh test check api bench shots
demo demo-fresh test check api bench shots:
	@$(PYTHON) tools/run.py $@
