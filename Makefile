PYTHON ?= python3

.PHONY: demo demo-fresh test check outside api bench shots
demo demo-fresh test check outside api bench shots:
	@$(PYTHON) tools/run.py $@
