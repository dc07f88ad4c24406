"""From the result of the search to the answer: fresh weeks, Pareto front, effect of each change."""
