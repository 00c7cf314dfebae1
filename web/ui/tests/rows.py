"""Rows of the test's database, kept and put back: quicker than making them anew for every test."""

from dataclasses import dataclass

from django.db import connection, transaction

LASTING = {"django_migrations", "django_content_type", "auth_permission"}
"""What migrations write and no test changes."""


def tables():
    """Every table that tests fill, those of the job queue too."""
    return sorted(set(connection.introspection.table_names()) - LASTING)


def quoted(names):
    return ", ".join(connection.ops.quote_name(name) for name in names)


def emptied():
    """Empty every table that holds something, ten times as fast as cutting them all off: few rows are in any."""
    with transaction.atomic(), connection.cursor() as cursor:
        for name in filled(cursor):
            cursor.execute(f"DELETE FROM {quoted([name])}")


def filled(cursor):
    """The tables that hold a row."""
    cursor.execute(" UNION ALL ".join(f"(SELECT '{name}' FROM {quoted([name])} LIMIT 1)" for name in tables()))
    return [name for (name,) in cursor.fetchall()]


@dataclass(frozen=True)
class Rows:
    """What stood in the database once."""

    copied: dict[str, bytes]
    counted: list[tuple[str, int]]

    @classmethod
    def taken(cls):
        with connection.cursor() as cursor:
            copied = {}
            for name in filled(cursor):
                with cursor.copy(f"COPY {quoted([name])} TO STDOUT (FORMAT binary)") as out:
                    copied[name] = b"".join(bytes(fragment) for fragment in out)
            cursor.execute(
                "SELECT format('%I.%I', schemaname, sequencename), last_value FROM pg_sequences WHERE last_value > 0"
            )
            return cls(copied, cursor.fetchall())

    def put_back(self):
        """All of them, in one go, with the numbers that follow."""
        with transaction.atomic(), connection.cursor() as cursor:
            for name, rows in self.copied.items():
                with cursor.copy(f"COPY {quoted([name])} FROM STDIN (FORMAT binary)") as into:
                    into.write(rows)
            for name, last in self.counted:
                cursor.execute("SELECT setval(%s, GREATEST(%s, nextval(%s)))", [name, last, name])
