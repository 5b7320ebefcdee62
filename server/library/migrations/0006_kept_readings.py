from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('library', '0005_recordings'),
    ]

    operations = [
        migrations.CreateModel(
            name='KeptReading',
            fields=[
                ('content', models.CharField(max_length=64, primary_key=True, serialize=False)),
                ('reading', models.JSONField()),
            ],
        ),
    ]
