from django.db import migrations, models

from studio.people.in_migrations import owned_by


class Migration(migrations.Migration):
    dependencies = [
        ("library", "0006_damaged_and_archives"),
        ("people", "0001_workspaces"),
        ("kits", "0011_references"),
    ]

    operations = [
        owned_by("grooverecord"),
        owned_by("session"),
        owned_by("wordrecord"),
        migrations.AlterField("wordrecord", "word", models.CharField(max_length=60)),
        migrations.AddConstraint(
            "wordrecord", models.UniqueConstraint(fields=["workspace", "word"], name="one_meaning_a_word")
        ),
        # Kits name their sessions now (kits 0012); the table between them stays.
        migrations.SeparateDatabaseAndState([], [migrations.RemoveField("session", "kits")]),
    ]
