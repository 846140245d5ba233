"""Suppliers in the place of their names, and their history."""

import pgtrigger.compiler
import pgtrigger.migrations
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [('pantry', '0006_suppliers_by_name')]

    operations = [
        migrations.RemoveField(model_name='lot', name='supplier'),
        migrations.RenameField(model_name='lot', old_name='supplier_row', new_name='supplier'),
        migrations.RemoveField(model_name='lotchange', name='supplier'),
        migrations.RenameField(model_name='lotchange', old_name='supplier_row', new_name='supplier'),
        migrations.RemoveField(model_name='pack', name='supplier'),
        migrations.RenameField(model_name='pack', old_name='supplier_row', new_name='supplier'),
        migrations.RemoveField(model_name='packchange', name='supplier'),
        migrations.RenameField(model_name='packchange', old_name='supplier_row', new_name='supplier'),
        pgtrigger.migrations.AddTrigger(
            model_name='lot',
            trigger=pgtrigger.compiler.Trigger(name='insert_insert', sql=pgtrigger.compiler.UpsertTriggerSql(func='INSERT INTO "pantry_lotchange" ("best_before", "brix", "code", "id", "ingredient_id", "mass_g", "opened_on", "origin", "pgh_context", "pgh_context_id", "pgh_created_at", "pgh_label", "pgh_obj_id", "ph", "received_on", "strength_high", "strength_low", "supplier_id", "tasting_notes", "used_up_on") VALUES (NEW."best_before", NEW."brix", NEW."code", NEW."id", NEW."ingredient_id", NEW."mass_g", NEW."opened_on", NEW."origin", COALESCE(NULLIF(CURRENT_SETTING(\'pghistory.context_metadata\', TRUE), \'\'), NULL)::JSONB, COALESCE(NULLIF(CURRENT_SETTING(\'pghistory.context_id\', TRUE), \'\'), NULL)::UUID, CLOCK_TIMESTAMP(), \'insert\', NEW."id", NEW."ph", NEW."received_on", NEW."strength_high", NEW."strength_low", NEW."supplier_id", NEW."tasting_notes", NEW."used_up_on"); RETURN NULL;', hash='8a08ca98278e49f719b283ff6cc47648389acbb0', operation='INSERT', pgid='pgtrigger_insert_insert_0ecca', table='pantry_lot', when='AFTER')),
        ),
        pgtrigger.migrations.AddTrigger(
            model_name='lot',
            trigger=pgtrigger.compiler.Trigger(name='update_update', sql=pgtrigger.compiler.UpsertTriggerSql(condition='WHEN (NEW."id" IS DISTINCT FROM (OLD."id") OR NEW."ingredient_id" IS DISTINCT FROM (OLD."ingredient_id") OR NEW."code" IS DISTINCT FROM (OLD."code") OR NEW."supplier_id" IS DISTINCT FROM (OLD."supplier_id") OR NEW."mass_g" IS DISTINCT FROM (OLD."mass_g") OR NEW."origin" IS DISTINCT FROM (OLD."origin") OR NEW."received_on" IS DISTINCT FROM (OLD."received_on") OR NEW."opened_on" IS DISTINCT FROM (OLD."opened_on") OR NEW."best_before" IS DISTINCT FROM (OLD."best_before") OR NEW."used_up_on" IS DISTINCT FROM (OLD."used_up_on") OR NEW."tasting_notes" IS DISTINCT FROM (OLD."tasting_notes") OR NEW."strength_low" IS DISTINCT FROM (OLD."strength_low") OR NEW."strength_high" IS DISTINCT FROM (OLD."strength_high") OR NEW."brix" IS DISTINCT FROM (OLD."brix") OR NEW."ph" IS DISTINCT FROM (OLD."ph"))', func='INSERT INTO "pantry_lotchange" ("best_before", "brix", "code", "id", "ingredient_id", "mass_g", "opened_on", "origin", "pgh_context", "pgh_context_id", "pgh_created_at", "pgh_label", "pgh_obj_id", "ph", "received_on", "strength_high", "strength_low", "supplier_id", "tasting_notes", "used_up_on") VALUES (NEW."best_before", NEW."brix", NEW."code", NEW."id", NEW."ingredient_id", NEW."mass_g", NEW."opened_on", NEW."origin", COALESCE(NULLIF(CURRENT_SETTING(\'pghistory.context_metadata\', TRUE), \'\'), NULL)::JSONB, COALESCE(NULLIF(CURRENT_SETTING(\'pghistory.context_id\', TRUE), \'\'), NULL)::UUID, CLOCK_TIMESTAMP(), \'update\', NEW."id", NEW."ph", NEW."received_on", NEW."strength_high", NEW."strength_low", NEW."supplier_id", NEW."tasting_notes", NEW."used_up_on"); RETURN NULL;', hash='f8489a904b44cd93fad4e1e73fddcd06e0af31b4', operation='UPDATE', pgid='pgtrigger_update_update_197f3', table='pantry_lot', when='AFTER')),
        ),
        pgtrigger.migrations.AddTrigger(
            model_name='lot',
            trigger=pgtrigger.compiler.Trigger(name='delete_delete', sql=pgtrigger.compiler.UpsertTriggerSql(func='INSERT INTO "pantry_lotchange" ("best_before", "brix", "code", "id", "ingredient_id", "mass_g", "opened_on", "origin", "pgh_context", "pgh_context_id", "pgh_created_at", "pgh_label", "pgh_obj_id", "ph", "received_on", "strength_high", "strength_low", "supplier_id", "tasting_notes", "used_up_on") VALUES (OLD."best_before", OLD."brix", OLD."code", OLD."id", OLD."ingredient_id", OLD."mass_g", OLD."opened_on", OLD."origin", COALESCE(NULLIF(CURRENT_SETTING(\'pghistory.context_metadata\', TRUE), \'\'), NULL)::JSONB, COALESCE(NULLIF(CURRENT_SETTING(\'pghistory.context_id\', TRUE), \'\'), NULL)::UUID, CLOCK_TIMESTAMP(), \'delete\', OLD."id", OLD."ph", OLD."received_on", OLD."strength_high", OLD."strength_low", OLD."supplier_id", OLD."tasting_notes", OLD."used_up_on"); RETURN NULL;', hash='74847f7b5b7b05a5aa81bc75cbd6153062ede0c1', operation='DELETE', pgid='pgtrigger_delete_delete_77dd8', table='pantry_lot', when='AFTER')),
        ),
        pgtrigger.migrations.AddTrigger(
            model_name='pack',
            trigger=pgtrigger.compiler.Trigger(name='insert_insert', sql=pgtrigger.compiler.UpsertTriggerSql(func='INSERT INTO "pantry_packchange" ("id", "ingredient_id", "mass_g", "name", "pgh_context", "pgh_context_id", "pgh_created_at", "pgh_label", "pgh_obj_id", "price", "since", "supplier_id") VALUES (NEW."id", NEW."ingredient_id", NEW."mass_g", NEW."name", COALESCE(NULLIF(CURRENT_SETTING(\'pghistory.context_metadata\', TRUE), \'\'), NULL)::JSONB, COALESCE(NULLIF(CURRENT_SETTING(\'pghistory.context_id\', TRUE), \'\'), NULL)::UUID, CLOCK_TIMESTAMP(), \'insert\', NEW."id", NEW."price", NEW."since", NEW."supplier_id"); RETURN NULL;', hash='1d7bc22079867db0bbf4c3022dede00c321383a5', operation='INSERT', pgid='pgtrigger_insert_insert_32a6a', table='pantry_pack', when='AFTER')),
        ),
        pgtrigger.migrations.AddTrigger(
            model_name='pack',
            trigger=pgtrigger.compiler.Trigger(name='update_update', sql=pgtrigger.compiler.UpsertTriggerSql(condition='WHEN (NEW."id" IS DISTINCT FROM (OLD."id") OR NEW."ingredient_id" IS DISTINCT FROM (OLD."ingredient_id") OR NEW."name" IS DISTINCT FROM (OLD."name") OR NEW."supplier_id" IS DISTINCT FROM (OLD."supplier_id") OR NEW."mass_g" IS DISTINCT FROM (OLD."mass_g") OR NEW."price" IS DISTINCT FROM (OLD."price") OR NEW."since" IS DISTINCT FROM (OLD."since"))', func='INSERT INTO "pantry_packchange" ("id", "ingredient_id", "mass_g", "name", "pgh_context", "pgh_context_id", "pgh_created_at", "pgh_label", "pgh_obj_id", "price", "since", "supplier_id") VALUES (NEW."id", NEW."ingredient_id", NEW."mass_g", NEW."name", COALESCE(NULLIF(CURRENT_SETTING(\'pghistory.context_metadata\', TRUE), \'\'), NULL)::JSONB, COALESCE(NULLIF(CURRENT_SETTING(\'pghistory.context_id\', TRUE), \'\'), NULL)::UUID, CLOCK_TIMESTAMP(), \'update\', NEW."id", NEW."price", NEW."since", NEW."supplier_id"); RETURN NULL;', hash='ea0f9b34b20257ea7a95290f48ff68541ba2c6e6', operation='UPDATE', pgid='pgtrigger_update_update_8f4ef', table='pantry_pack', when='AFTER')),
        ),
        pgtrigger.migrations.AddTrigger(
            model_name='pack',
            trigger=pgtrigger.compiler.Trigger(name='delete_delete', sql=pgtrigger.compiler.UpsertTriggerSql(func='INSERT INTO "pantry_packchange" ("id", "ingredient_id", "mass_g", "name", "pgh_context", "pgh_context_id", "pgh_created_at", "pgh_label", "pgh_obj_id", "price", "since", "supplier_id") VALUES (OLD."id", OLD."ingredient_id", OLD."mass_g", OLD."name", COALESCE(NULLIF(CURRENT_SETTING(\'pghistory.context_metadata\', TRUE), \'\'), NULL)::JSONB, COALESCE(NULLIF(CURRENT_SETTING(\'pghistory.context_id\', TRUE), \'\'), NULL)::UUID, CLOCK_TIMESTAMP(), \'delete\', OLD."id", OLD."price", OLD."since", OLD."supplier_id"); RETURN NULL;', hash='63ef7095635e844659ed2fc24c1ea175a7ea656e', operation='DELETE', pgid='pgtrigger_delete_delete_4ea92', table='pantry_pack', when='AFTER')),
        ),
        migrations.AddConstraint(
            model_name='ingredient',
            constraint=models.CheckConstraint(condition=models.Q(models.Q(('kind', 'made'), ('made_from__isnull', False)), models.Q(models.Q(('kind', 'made'), _negated=True), ('made_from__isnull', True)), _connector='OR'), name='made_here_by_a_formula'),
        ),
        pgtrigger.migrations.AddTrigger(
            model_name='supplier',
            trigger=pgtrigger.compiler.Trigger(name='insert_insert', sql=pgtrigger.compiler.UpsertTriggerSql(func='INSERT INTO "pantry_supplierchange" ("archived_at", "contact", "id", "name", "pgh_context", "pgh_context_id", "pgh_created_at", "pgh_label", "pgh_obj_id", "site_id") VALUES (NEW."archived_at", NEW."contact", NEW."id", NEW."name", COALESCE(NULLIF(CURRENT_SETTING(\'pghistory.context_metadata\', TRUE), \'\'), NULL)::JSONB, COALESCE(NULLIF(CURRENT_SETTING(\'pghistory.context_id\', TRUE), \'\'), NULL)::UUID, CLOCK_TIMESTAMP(), \'insert\', NEW."id", NEW."site_id"); RETURN NULL;', hash='7b79320423a37be90c82338b1306c9359b0d6662', operation='INSERT', pgid='pgtrigger_insert_insert_92310', table='pantry_supplier', when='AFTER')),
        ),
        pgtrigger.migrations.AddTrigger(
            model_name='supplier',
            trigger=pgtrigger.compiler.Trigger(name='update_update', sql=pgtrigger.compiler.UpsertTriggerSql(condition='WHEN (NEW."id" IS DISTINCT FROM (OLD."id") OR NEW."site_id" IS DISTINCT FROM (OLD."site_id") OR NEW."name" IS DISTINCT FROM (OLD."name") OR NEW."contact" IS DISTINCT FROM (OLD."contact") OR NEW."archived_at" IS DISTINCT FROM (OLD."archived_at"))', func='INSERT INTO "pantry_supplierchange" ("archived_at", "contact", "id", "name", "pgh_context", "pgh_context_id", "pgh_created_at", "pgh_label", "pgh_obj_id", "site_id") VALUES (NEW."archived_at", NEW."contact", NEW."id", NEW."name", COALESCE(NULLIF(CURRENT_SETTING(\'pghistory.context_metadata\', TRUE), \'\'), NULL)::JSONB, COALESCE(NULLIF(CURRENT_SETTING(\'pghistory.context_id\', TRUE), \'\'), NULL)::UUID, CLOCK_TIMESTAMP(), \'update\', NEW."id", NEW."site_id"); RETURN NULL;', hash='42d7a6f4a0a9dac47ca829ad8107f66afe306075', operation='UPDATE', pgid='pgtrigger_update_update_e8a7f', table='pantry_supplier', when='AFTER')),
        ),
        pgtrigger.migrations.AddTrigger(
            model_name='supplier',
            trigger=pgtrigger.compiler.Trigger(name='delete_delete', sql=pgtrigger.compiler.UpsertTriggerSql(func='INSERT INTO "pantry_supplierchange" ("archived_at", "contact", "id", "name", "pgh_context", "pgh_context_id", "pgh_created_at", "pgh_label", "pgh_obj_id", "site_id") VALUES (OLD."archived_at", OLD."contact", OLD."id", OLD."name", COALESCE(NULLIF(CURRENT_SETTING(\'pghistory.context_metadata\', TRUE), \'\'), NULL)::JSONB, COALESCE(NULLIF(CURRENT_SETTING(\'pghistory.context_id\', TRUE), \'\'), NULL)::UUID, CLOCK_TIMESTAMP(), \'delete\', OLD."id", OLD."site_id"); RETURN NULL;', hash='3a2fe9030937776cbc3a4bdaee4caa103d454fa2', operation='DELETE', pgid='pgtrigger_delete_delete_84038', table='pantry_supplier', when='AFTER')),
        ),
    ]
