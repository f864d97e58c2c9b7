from django.db import migrations, models

from studio.people.in_migrations import owned_by


class Migration(migrations.Migration):
    dependencies = [("jobs", "0004_no_beat"), ("people", "0001_workspaces"), ("kits", "0011_references")]

    operations = [
        owned_by("job"),
        # A job knows the kit it is of by its identifier: what jobs are of is no business of theirs.
        migrations.AlterField(
            "job", "kit", models.CharField(max_length=80, null=True, db_index=True, db_column="kit_id")
        ),
    ]
