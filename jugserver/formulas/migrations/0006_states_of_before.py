"""What lists show of formulas of before: to be worked out, and what they put into equipment before anybody asks for it."""

from django.db import migrations


class Migration(migrations.Migration):

    dependencies = [
        ('formulas', '0005_states'),
    ]

    operations = [
        migrations.RunSQL(
            """
            INSERT INTO formulas_formulastate (formula_id, site_id, name, touched_at, archived, draft, core_version, stale, gear, uses, search)
            SELECT id, site_id, name, touched_at, archived_at IS NOT NULL, draft, '', true, '{}', '{}',
                ' ' || lower(concat_ws(' ', name, family, school)) || ' '
            FROM formulas_formula
            """,
            migrations.RunSQL.noop,
        ),
    ]
