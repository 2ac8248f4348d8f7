"""One harness in six views."""
