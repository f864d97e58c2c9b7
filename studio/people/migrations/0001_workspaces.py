from django.db import migrations, models

LOCAL = 1


def make_local(apps, schema_editor):
    """What was kept before there were workspaces is this one's."""
    apps.get_model("people", "Workspace").objects.get_or_create(id=LOCAL, defaults={"name": "Local"})


class Migration(migrations.Migration):
    initial = True
    dependencies = []

    operations = [
        migrations.CreateModel(
            name="Workspace",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("name", models.CharField(max_length=120, unique=True)),
            ],
        ),
        migrations.RunPython(make_local, migrations.RunPython.noop),
    ]
