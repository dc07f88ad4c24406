"""Which weeks a study is about, and the weeks of the year in which its answer is checked."""
