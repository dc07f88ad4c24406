"""Who wants a desktop when: groups, patterns and visits become spells."""
