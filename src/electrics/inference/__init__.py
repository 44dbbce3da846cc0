"""The belief engine: hypotheses, tests with answers, likelihoods; knows nothing of wires or flashers."""
