"""The login of the demo, printed when it starts; it guards nothing but made-up jobs."""

DEMO_USER = "saltmarsh"
DEMO_PASSWORD = "low-tide-12V"
