"""What is set for the whole shop."""

import sqlite3


def fetch_settings(connection: sqlite3.Connection) -> dict[str, str]:
    """Return the settings by name. Reads only."""
    return {row["name"]: row["value"] for row in connection.execute("SELECT name, value FROM setting")}


def put_setting(connection: sqlite3.Connection, name: str, value: str) -> None:
    """Set one setting; call inside a transaction."""
    connection.execute(
        "INSERT INTO setting (name, value) VALUES (:name, :value) ON CONFLICT (name) DO UPDATE SET value = :value",
        {"name": name, "value": value},
    )
