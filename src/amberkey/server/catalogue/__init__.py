"""Lists of commands brought in, and the tasks that are proposed for commands."""
