from django.db import migrations, models

from studio.people.in_migrations import owned_by


class Migration(migrations.Migration):
    dependencies = [("kits", "0011_references"), ("people", "0001_workspaces"), ("library", "0007_workspace")]

    operations = [
        owned_by("kitrecord"),
        # Sessions named their kits before (library 0007); the table between them is the same.
        migrations.SeparateDatabaseAndState(
            [],
            [
                migrations.AddField(
                    "kitrecord",
                    "sessions",
                    models.ManyToManyField(related_name="kits", to="library.session", db_table="library_session_kits"),
                )
            ],
        ),
    ]
