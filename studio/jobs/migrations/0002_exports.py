"""Stems and kit files, each a kind of job until now, are exports: what was made stays to be had, and to be made again."""

from typing import Any

from django.db import migrations

NOW = {"render_stems": "stems", "save_kit_file": "kit-file"}


def rename(apps: Any, schema_editor: Any) -> None:
    for job in apps.get_model("jobs", "Job").objects.filter(kind__in=NOW):
        asked = {name: job.arguments[name] for name in ("groove", "rate_hz", "bits") if name in job.arguments}
        groove = job.arguments.get("groove_name")
        job.arguments = {
            "export": NOW[job.kind],
            "asked": asked,
            "version": job.arguments["version"],
            "title": f"Rendering {groove}" if groove else "Saving the kit file",
        }
        made = job.result.get("stems", {}).get("stems", [])
        if made:
            fields = ("file", "width", "peak_dbfs", "clipped_samples")
            parts = [{field: stem[field] for field in fields} for stem in made]
            job.result = {"download": job.result["download"], "parts": parts, "within": "stems"}
        job.kind = "export"
        job.save()


class Migration(migrations.Migration):
    dependencies = [("jobs", "0001_initial")]
    operations = [migrations.RunPython(rename, migrations.RunPython.noop)]
