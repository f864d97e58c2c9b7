from django.db import migrations, models

from studio.people.in_migrations import owned_by


class Migration(migrations.Migration):
    dependencies = [("shelves", "0003_references"), ("people", "0001_workspaces")]

    operations = [
        migrations.RemoveConstraint("kept", "one_of_a_kind_a_name"),
        owned_by("kept"),
        migrations.AddConstraint(
            "kept", models.UniqueConstraint(fields=["workspace", "kind", "name"], name="one_of_a_kind_a_name")
        ),
    ]
