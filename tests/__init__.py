"""The tests: behaviour, over real wires where there is one."""
