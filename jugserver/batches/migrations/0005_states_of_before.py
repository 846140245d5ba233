"""States kept before they had columns: shown as they are, until they are read anew."""

from django.db import migrations


class Migration(migrations.Migration):

    dependencies = [
        ('batches', '0004_states'),
    ]

    operations = [
        migrations.RunSQL(
            """
            INSERT INTO batches_batchstate
                (batch_id, site_id, started_at, number, seq, shape, status, closed_at, off_plan, cooling_by, dated, flow, search, summary)
            SELECT s.batch_id, b.site_id, b.started_at, b.number, s.seq, 0, s.status, s.closed_at,
                coalesce((s.summary->>'off_plan')::int, 0), (s.summary->'cooling'->>'by')::timestamptz, '{}',
                coalesce(nullif(s.summary->'flow', 'null'), '[]'), ' ' || lower(concat_ws(' ', b.name, u.display_name, s.summary->>'words')) || ' ',
                s.summary || jsonb_build_object('status', s.status, 'closed_at', s.closed_at)
            FROM batches_state_before s JOIN batches_batch b ON b.id = s.batch_id JOIN accounts_user u ON u.id = b.started_by_id;
            UPDATE batches_batch b SET behind = false FROM batches_state_before s WHERE s.batch_id = b.id AND s.seq = b.last_seq;
            DROP TABLE batches_state_before;
            """,
            "CREATE TABLE batches_state_before AS SELECT batch_id, seq, status, closed_at, summary FROM batches_batchstate",
        ),
    ]
