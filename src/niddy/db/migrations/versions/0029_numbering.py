"""numbers given by counters: a sequence jumps when its database is killed, and goes back with an older backup."""

import sqlalchemy as sa
from alembic import op

revision = "0029"
down_revision = "0028"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "numbering",
        sa.Column("room", sa.String(), nullable=False),
        sa.Column("last", sa.Integer(), nullable=False),
        sa.CheckConstraint("last >= 0", name=op.f("ck_numbering_last")),
        sa.PrimaryKeyConstraint("room", name=op.f("pk_numbering")),
    )
    op.execute("insert into numbering (room, last) select room, max(number) from job group by room")


SEQUENCES = {
    "slab": "batch_number_seq",
    "rubout": "rubout_id_seq",
    "shelf": "shelf_item_id_seq",
    "sticks": "stick_pot_number_seq",
    "cans": "wash_can_number_seq",
    "dishes": "sludge_dish_number_seq",
    "runs": "pigment_run_number_seq",
    "practice": "practice_try_number_seq",
    "charts": "mixing_chart_number_seq",
    "additives": "ladder_id_seq",
}


def downgrade() -> None:
    for room, sequence in SEQUENCES.items():
        op.execute(f"select setval('{sequence}', last) from numbering where room = '{room}' and last > 0")
    op.drop_table("numbering")
