"""How many times its version a batch is. What a batch was started from is protected by exclusion: only what follows its log may change."""

from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('batches', '0005_states_of_before'),
    ]

    operations = [
        migrations.AddField(
            model_name='batch',
            name='factor',
            field=models.FloatField(help_text='how many times its version it is; unknown of batches of before', null=True),
        ),
        migrations.RunSQL(
            """
            CREATE OR REPLACE FUNCTION batches_batch_is_kept() RETURNS trigger LANGUAGE plpgsql AS $$
            DECLARE follows_the_log constant text[] := ARRAY['last_seq', 'chain', 'touched_at', 'behind'];
            BEGIN
                IF TG_OP = 'UPDATE' AND NEW.last_seq >= OLD.last_seq
                    AND to_jsonb(NEW) - follows_the_log = to_jsonb(OLD) - follows_the_log THEN
                    RETURN NEW;
                END IF;
                RAISE EXCEPTION 'What a batch was started from never changes.' USING ERRCODE = 'restrict_violation';
            END
            $$;
            """,
            """
            CREATE OR REPLACE FUNCTION batches_batch_is_kept() RETURNS trigger LANGUAGE plpgsql AS $$
            BEGIN
                IF TG_OP = 'UPDATE' AND (OLD.id, OLD.site_id, OLD.number, OLD.formula_id, OLD.version_id, OLD.document, OLD.fingerprint,
                    OLD.started_by_id, OLD.started_at, OLD.core_version) IS NOT DISTINCT FROM (NEW.id, NEW.site_id, NEW.number, NEW.formula_id,
                    NEW.version_id, NEW.document, NEW.fingerprint, NEW.started_by_id, NEW.started_at, NEW.core_version)
                    AND NEW.last_seq >= OLD.last_seq THEN
                    RETURN NEW;
                END IF;
                RAISE EXCEPTION 'What a batch was started from never changes.' USING ERRCODE = 'restrict_violation';
            END
            $$;
            """,
        ),
    ]
