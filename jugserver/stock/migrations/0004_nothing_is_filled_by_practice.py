"""What is only practised fills nothing: whoever writes it, the database refuses."""

from __future__ import annotations

from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("stock", "0003_doses_places_and_opened_days"), ("batches", "0007_kinds")]

    operations = [
        migrations.RunSQL(
            sql="""
                CREATE FUNCTION stock_of_what_was_cooked() RETURNS trigger LANGUAGE plpgsql AS $$
                BEGIN
                    IF EXISTS (SELECT 1 FROM batches_batch WHERE id = NEW.batch_id AND kind <> 'real') THEN
                        RAISE EXCEPTION 'What is only practised fills no bottle and takes of no lot.' USING ERRCODE = 'check_violation';
                    END IF;
                    RETURN NEW;
                END
                $$;
                CREATE TRIGGER container_of_what_was_cooked BEFORE INSERT ON stock_container
                    FOR EACH ROW EXECUTE FUNCTION stock_of_what_was_cooked();
                CREATE TRIGGER lot_use_of_what_was_cooked BEFORE INSERT ON stock_lotuse
                    FOR EACH ROW EXECUTE FUNCTION stock_of_what_was_cooked();
            """,
            reverse_sql="""
                DROP TRIGGER lot_use_of_what_was_cooked ON stock_lotuse;
                DROP TRIGGER container_of_what_was_cooked ON stock_container;
                DROP FUNCTION stock_of_what_was_cooked();
            """,
        ),
    ]
