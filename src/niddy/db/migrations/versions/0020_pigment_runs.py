"""making: runs of processes; raw materials as lots, with purity; lots under suspicion."""

import sqlalchemy as sa
from alembic import op

revision = "0020"
down_revision = "0019"
branch_labels = None
depends_on = None

WHEN = sa.DateTime(timezone=True)
ROOMS = "'slab', 'rubout', 'additives', 'gels', 'shelf', 'checks', 'sticks', 'bases', 'cans', 'dishes'"
KINDS = "'pigment', 'oil', 'additive', 'gel', 'tube', 'jar', 'wax', 'base'"


def _checked(table: str, name: str, says: str) -> None:
    op.drop_constraint(op.f(f"ck_{table}_{name}"), table)
    op.create_check_constraint(op.f(f"ck_{table}_{name}"), table, says)


def upgrade() -> None:
    _checked("job", "room", f"room in ({ROOMS}, 'runs')")
    _checked("lot", "kind", f"kind in ({KINDS}, 'raw')")
    op.add_column("lot", sa.Column("purity", sa.Double(), nullable=True))
    op.add_column("lot", sa.Column("suspect", sa.String(), server_default="", nullable=False))
    op.create_check_constraint(op.f("ck_lot_purity"), "lot", "purity > 0 and purity <= 1")
    op.add_column("studio_settings", sa.Column("ph_port", sa.String(), server_default="", nullable=False))
    op.create_table(
        "pigment_run",
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("job_id", sa.BigInteger(), nullable=False),
        sa.Column("process_id", sa.Integer(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("changed", sa.String(), server_default="", nullable=False),
        sa.Column("yield_g", sa.Double(), nullable=True),
        sa.Column("light_due_at", WHEN, nullable=True),
        sa.CheckConstraint("yield_g >= 0", name=op.f("ck_pigment_run_yield")),
        sa.ForeignKeyConstraint(
            ["process_id", "version"],
            ["making_process_version.process_id", "making_process_version.version"],
            name="fk_pigment_run_version",
        ),
        sa.ForeignKeyConstraint(["job_id"], ["job.id"], name=op.f("fk_pigment_run_job_id_job")),
        sa.PrimaryKeyConstraint("number", name=op.f("pk_pigment_run")),
        sa.UniqueConstraint("job_id", name=op.f("uq_pigment_run_job_id")),
    )
    op.create_index("ix_pigment_run_process_id", "pigment_run", ["process_id"])
    op.create_index(
        "ix_pigment_run_light_due_at",
        "pigment_run",
        ["light_due_at"],
        postgresql_where=sa.text("light_due_at is not null"),
    )


def downgrade() -> None:
    op.drop_column("studio_settings", "ph_port")
    # Pigment that was made here is a lot like any other, and stays; a raw material has no earlier shape.
    gone = "select id from job where room = 'runs'"
    raw = "select id from lot where kind = 'raw'"
    op.execute(f"delete from output where job_id in ({gone})")
    op.execute(f"delete from lot_movement where lot_id in ({raw})")
    op.execute(f"update lot_movement set job_id = null where job_id in ({gone})")
    op.execute(f"delete from photo where id in (select id from act where job_id in ({gone}))")
    op.drop_table("pigment_run")
    op.execute(f"delete from act where job_id in ({gone})")
    op.execute("delete from job where room = 'runs'")
    op.execute("delete from lot where kind = 'raw'")
    op.execute("delete from own_material where kind = 'raw'")
    op.drop_constraint(op.f("ck_lot_purity"), "lot")
    op.drop_column("lot", "suspect")
    op.drop_column("lot", "purity")
    _checked("lot", "kind", f"kind in ({KINDS})")
    _checked("job", "room", f"room in ({ROOMS})")
