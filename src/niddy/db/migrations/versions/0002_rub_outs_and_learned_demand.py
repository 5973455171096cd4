"""rub-outs and learned demand."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "82662171816a"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "pigment_demand",
        sa.Column("pigment_key", sa.String(), nullable=False),
        sa.Column("entered_low", sa.Double(), nullable=True),
        sa.Column("entered_high", sa.Double(), nullable=True),
        sa.Column("entered_from", sa.String(), nullable=False),
        sa.Column("unseen_g_per_100g", sa.Double(), nullable=False),
        sa.Column("unseen_sd_ln", sa.Double(), nullable=False),
        sa.Column("basis", sa.String(), nullable=False),
        sa.Column("says", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("pigment_key", name=op.f("pk_pigment_demand")),
    )
    op.create_table(
        "demand_record",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("pigment_key", sa.String(), nullable=False),
        sa.Column("lot_id", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("ref", sa.Integer(), nullable=False),
        sa.Column("says", sa.String(), nullable=False),
        sa.Column("oil_absorption_g_per_100g", sa.Double(), nullable=False),
        sa.Column("sd_ln", sa.Double(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("set_aside", sa.String(), nullable=True),
        sa.Column("void", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(["lot_id"], ["lot.id"], name=op.f("fk_demand_record_lot_id_lot")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_demand_record")),
        sa.UniqueConstraint("kind", "ref", name="uq_demand_record_ref"),
    )
    op.create_index("ix_demand_record_pigment_key", "demand_record", ["pigment_key"], unique=False)
    op.create_table(
        "rubout",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("request_id", sa.Uuid(), nullable=False),
        sa.Column("lot_id", sa.Integer(), nullable=False),
        sa.Column("pigment_key", sa.String(), nullable=False),
        sa.Column("pigment_g", sa.Double(), nullable=False),
        sa.Column("oil", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("temperature_c", sa.Double(), nullable=True),
        sa.Column("begun_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("ended_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("status", sa.String(), nullable=False),
        sa.Column("reason", sa.String(), nullable=False),
        sa.Column("result_g_per_100g", sa.Double(), nullable=True),
        sa.ForeignKeyConstraint(["lot_id"], ["lot.id"], name=op.f("fk_rubout_lot_id_lot")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_rubout")),
        sa.UniqueConstraint("request_id", name=op.f("uq_rubout_request_id")),
    )
    op.create_index(op.f("ix_rubout_lot_id"), "rubout", ["lot_id"], unique=False)
    op.create_table(
        "rubout_step",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("rubout_id", sa.Integer(), nullable=False),
        sa.Column("seq", sa.Integer(), nullable=False),
        sa.Column("measure", postgresql.JSONB(astext_type=sa.Text()), nullable=True),
        sa.Column("mass", postgresql.JSONB(astext_type=sa.Text()), nullable=True),
        sa.Column("undoes", sa.Uuid(), nullable=True),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["rubout_id"], ["rubout.id"], name=op.f("fk_rubout_step_rubout_id_rubout")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_rubout_step")),
        sa.UniqueConstraint("rubout_id", "seq", name="uq_rubout_step_seq"),
    )
    op.add_column("lot", sa.Column("demand_g_per_100g", sa.Double(), nullable=True))
    op.add_column("lot", sa.Column("demand_sd_ln", sa.Double(), nullable=True))
    op.add_column("lot", sa.Column("demand_basis", sa.String(), nullable=True))
    op.add_column("lot", sa.Column("demand_says", sa.String(), nullable=False, server_default=""))


def downgrade() -> None:
    op.drop_column("lot", "demand_says")
    op.drop_column("lot", "demand_basis")
    op.drop_column("lot", "demand_sd_ln")
    op.drop_column("lot", "demand_g_per_100g")
    op.drop_table("rubout_step")
    op.drop_index(op.f("ix_rubout_lot_id"), table_name="rubout")
    op.drop_table("rubout")
    op.drop_index("ix_demand_record_pigment_key", table_name="demand_record")
    op.drop_table("demand_record")
    op.drop_table("pigment_demand")
