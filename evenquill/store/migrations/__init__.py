"""The numbered migrations: SQL, or a module with ``run(connection)`` where SQL is not enough."""
