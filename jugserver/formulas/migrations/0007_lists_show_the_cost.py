"""Lists show what a kilogram costs: states of before are worked out anew, by and by."""

from django.db import migrations


class Migration(migrations.Migration):

    dependencies = [
        ('formulas', '0006_states_of_before'),
    ]

    operations = [
        migrations.RunSQL("UPDATE formulas_formulastate SET stale = true", migrations.RunSQL.noop),
    ]
