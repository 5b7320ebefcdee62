from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('library', '0006_kept_readings'),
    ]

    operations = [
        migrations.CreateModel(
            name='PictureSize',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('sha256', models.CharField(max_length=64)),
                ('pixels', models.PositiveIntegerField()),
                ('data', models.BinaryField()),
            ],
            options={
                'constraints': (models.UniqueConstraint(fields=('sha256', 'pixels'), name='one_picture_a_size'),),
            },
        ),
    ]
