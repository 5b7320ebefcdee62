from typing import Any

from django.db import migrations, models


def note_figures_of_clips(apps: Any, schema_editor: Any) -> None:
    """Until now only scenes told what they use; clips use their figures."""
    Document = apps.get_model("documents", "Document")
    Revision = apps.get_model("documents", "Revision")
    Use = apps.get_model("documents", "Use")
    known = set(Document.objects.filter(kind="figure").values_list("pk", flat=True))
    standing = Revision.objects.filter(
        document__kind="clip", number=models.F("document__head")
    ).values_list("document_id", "body__figure")
    names = {str(pk): pk for pk in known}
    Use.objects.bulk_create(
        (
            Use(document_id=clip, used_id=names[figure])
            for clip, figure in standing
            if figure in names
        ),
        ignore_conflicts=True,
    )


def note_what_stands(apps: Any, schema_editor: Any) -> None:
    """The key of the revision that stands, beside its number."""
    Document = apps.get_model("documents", "Document")
    Revision = apps.get_model("documents", "Revision")
    heads = Revision.objects.filter(document=models.OuterRef("pk"), number=models.OuterRef("head"))
    Document.objects.update(standing=models.Subquery(heads.values("pk")[:1]))


class Migration(migrations.Migration):
    dependencies = [("documents", "0003_tokens")]

    operations = [
        migrations.CreateModel(
            name="Block",
            fields=[
                ("sha256", models.CharField(max_length=64, primary_key=True, serialize=False)),
                ("data", models.BinaryField()),
            ],
        ),
        migrations.RemoveConstraint(model_name="use", name="one_use_each"),
        migrations.RenameField(model_name="use", old_name="scene", new_name="document"),
        migrations.AddConstraint(
            model_name="use",
            constraint=models.UniqueConstraint(fields=("document", "used"), name="one_use_each"),
        ),
        migrations.AlterField(
            model_name="document", name="kind", field=models.CharField(max_length=20)
        ),
        migrations.AddField(
            model_name="document", name="figure", field=models.UUIDField(null=True)
        ),
        migrations.AddField(
            model_name="document",
            name="rate",
            field=models.CharField(default="", max_length=20),
        ),
        migrations.AddField(
            model_name="document",
            name="length_frames",
            field=models.PositiveIntegerField(null=True),
        ),
        migrations.AddField(
            model_name="document",
            name="grade",
            field=models.CharField(default="", max_length=10),
        ),
        migrations.AddField(
            model_name="document", name="facts", field=models.JSONField(default=dict)
        ),
        migrations.AddField(
            model_name="document", name="thumbnail", field=models.BinaryField(default=b"")
        ),
        migrations.AddField(
            model_name="document", name="told_of", field=models.PositiveIntegerField(default=0)
        ),
        migrations.AddField(
            model_name="document", name="standing", field=models.BigIntegerField(default=0)
        ),
        migrations.AddIndex(
            model_name="document",
            index=models.Index(fields=["production", "created", "id"], name="documents_in_order"),
        ),
        migrations.RunPython(note_figures_of_clips, migrations.RunPython.noop),
        migrations.RunPython(note_what_stands, migrations.RunPython.noop),
    ]
