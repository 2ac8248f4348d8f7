"""Accounts of a server that a book lies on, and what keeps its house rules: the server itself.

The account that made the book owns its tables, and who works by that account is taken at their
word. Every other account is let in by it, may do what the work needs, and is known to the server:
a version of a job whose house rules differ from those before is refused there unless the account
may change them, whatever program sends it (PostgreSQL 15, "Overview of Trigger Behavior"). The path
of the guards is set, lest a table of the same name that an account makes for itself be asked in
their place ("Writing SECURITY DEFINER Functions Safely").
"""

from __future__ import annotations

import hashlib

from sqlalchemy import Connection, text

from zombrel.job.problem import Problem
from zombrel.store.book.schema import META

_OWNER = (
    "(SELECT tableowner FROM pg_tables "
    "WHERE tablename = 'versions' AND schemaname = current_schema())"
)
_GIVEN = {
    "edition": "SELECT",
    "rights": "SELECT, INSERT, DELETE",
    "versions": "SELECT, INSERT",
    "aparts": "SELECT, INSERT",
    "files": "SELECT, INSERT",
    "shared": "SELECT, INSERT, UPDATE",
}
"""What an account may do to a table: what was sent stays as it was sent. To all others: all."""
_HOUSE = "convert_from({}.content, 'UTF8')::json -> 'house'"
_MAY = f"""(
    session_user = {_OWNER} AND EXISTS (SELECT FROM rights WHERE who = NEW.who)
    OR EXISTS (SELECT FROM rights WHERE who = session_user)
)"""
_GUARDS = (
    f"""CREATE OR REPLACE FUNCTION keep_house_rules() RETURNS trigger LANGUAGE plpgsql
    SET search_path = {{schema}}, pg_temp AS $$
    DECLARE was jsonb;
    BEGIN
        SELECT ({_HOUSE.format("v")})::jsonb INTO was FROM versions v
        WHERE v.shared = NEW.shared ORDER BY v.version DESC LIMIT 1;
        IF FOUND AND was IS DISTINCT FROM ({_HOUSE.format("NEW")})::jsonb
            AND EXISTS (SELECT FROM rights) AND NOT {_MAY}
        THEN
            RAISE EXCEPTION USING MESSAGE = session_user || ' may not change the house rules';
        END IF;
        RETURN NEW;
    END $$""",
    f"""CREATE OR REPLACE FUNCTION keep_rights() RETURNS trigger LANGUAGE plpgsql
    SET search_path = {{schema}}, pg_temp AS $$
    BEGIN
        IF session_user <> {_OWNER} AND NOT EXISTS (SELECT FROM rights WHERE who = session_user)
        THEN
            RAISE EXCEPTION USING MESSAGE = session_user || ' may not say who changes them';
        END IF;
        IF TG_OP = 'DELETE' AND (SELECT count(*) FROM rights) = 1 THEN
            RAISE EXCEPTION 'without a name everybody may change the house rules';
        END IF;
        RETURN COALESCE(NEW, OLD);
    END $$""",
    """CREATE OR REPLACE TRIGGER keep_house_rules BEFORE INSERT ON versions
    FOR EACH ROW EXECUTE FUNCTION keep_house_rules()""",
    """CREATE OR REPLACE TRIGGER keep_rights BEFORE INSERT OR DELETE ON rights
    FOR EACH ROW EXECUTE FUNCTION keep_rights()""",
)

_TRIGGERS = 2
_EDITION = hashlib.sha256("".join(_GUARDS).encode()).hexdigest()[:16]


def account(c: Connection) -> str:
    """The account that is at work; empty for the one that owns the book."""
    row = c.execute(text(f"SELECT session_user, {_OWNER}")).one()
    return "" if row[1] in (None, row[0]) else str(row[0])


def ready(c: Connection) -> None:
    """Put up the guards where they are not, and let in again who was: new tables know nobody."""
    if not _stand(c):
        schema = c.dialect.identifier_preparer.quote(str(c.scalar(text("SELECT current_schema()"))))
        for sql in _GUARDS:
            c.exec_driver_sql(sql.replace("{schema}", schema))
        c.exec_driver_sql(f"COMMENT ON FUNCTION keep_house_rules() IS '{_EDITION}'")
    for name in admitted(c):
        asked = text("SELECT has_table_privilege(:name, 'edition', 'SELECT')")
        if not c.scalar(asked, {"name": name}):
            _give(c, name)


def _stand(c: Connection) -> bool:
    """Whether the guards are there, and are these."""
    said = "SELECT obj_description(oid, 'pg_proc') FROM pg_proc WHERE proname = 'keep_house_rules'"
    put = "SELECT count(*) FROM pg_trigger WHERE tgname IN ('keep_house_rules', 'keep_rights')"
    return bool(c.scalar(text(said)) == _EDITION and c.scalar(text(put)) == _TRIGGERS)


def admitted(c: Connection) -> tuple[str, ...]:
    """Accounts that were let in."""
    known = "SELECT DISTINCT grantee FROM information_schema.role_table_grants " + (
        f"WHERE table_name = 'versions' AND grantee NOT IN ({_OWNER}, 'PUBLIC') ORDER BY grantee"
    )
    return tuple(str(name) for (name,) in c.execute(text(known)).all())


def admit(c: Connection, name: str) -> None:
    """Let an account work with the book.

    Raises:
        Problem: the server does not know it, or who asks is not the owner.
    """
    mine = account(c)
    if mine:
        raise Problem(f"{mine} cannot let anybody in: ask who made the book.")
    if (
        c.execute(text("SELECT FROM pg_roles WHERE rolname = :name"), {"name": name}).first()
        is None
    ):
        raise Problem(
            f"The server knows no account “{name}”. On its machine: "
            f"sudo -u postgres createuser --pwprompt {name}"
        )
    _give(c, name)


def expel(c: Connection, name: str) -> None:
    """Let an account in no longer.

    Raises:
        Problem: it was not let in, or who asks is not the owner.
    """
    mine = account(c)
    if mine:
        raise Problem(f"{mine} cannot shut anybody out: ask who made the book.")
    if name not in admitted(c):
        raise Problem(f"“{name}” is not let in: there is {', '.join(admitted(c)) or 'nobody'}.")
    quoted = c.dialect.identifier_preparer.quote(name)
    for table in META.tables:
        c.exec_driver_sql(f"REVOKE ALL ON {table} FROM {quoted}")


def _give(c: Connection, name: str) -> None:
    quoted = c.dialect.identifier_preparer.quote(name)
    for table in META.tables:
        given = _GIVEN.get(table, "SELECT, INSERT, UPDATE, DELETE")
        c.exec_driver_sql(f"GRANT {given} ON {table} TO {quoted}")
    c.exec_driver_sql(f"GRANT USAGE ON ALL SEQUENCES IN SCHEMA public TO {quoted}")
