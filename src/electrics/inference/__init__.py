"""The belief engine: hypotheses, observations with their likelihoods, mistakes, and what is worth asking.

It knows nothing of wires, lamps or flashers. Whoever uses it brings the hypotheses with their prior weights, and
for every observation how likely it is under each of them and how likely as a mistake; `evidence` weighs them,
`joint` weighs things that share how many of a kind there are, `telling` says what an observation not made yet is
expected to tell, and `questions` puts the three together for tests with a handful of answers.
"""
