import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('rigs', '0007_tires_and_tread'),
        ('sensors', '0002_heard'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.CreateModel(
            name='Drive',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('uuid', models.UUIDField(unique=True)),
                ('simulated', models.JSONField(null=True)),
                ('started_at', models.DateTimeField()),
                ('heard_at', models.DateTimeField()),
                ('ended_at', models.DateTimeField(null=True)),
                ('held', models.TextField()),
                ('held_at', models.DateTimeField()),
                ('followed', models.TextField()),
                ('kept', models.TextField(default='[]')),
                ('pending', models.TextField(default='')),
                ('count', models.PositiveIntegerField(default=0)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('rig', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='drives', to='rigs.rig')),
            ],
            options={
                'ordering': ['-started_at', '-id'],
            },
        ),
        migrations.CreateModel(
            name='DriveBlock',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('text', models.BinaryField()),
                ('drive', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='blocks', to='sensors.drive')),
            ],
            options={
                'ordering': ['id'],
            },
        ),
        migrations.CreateModel(
            name='Receiver',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('name', models.CharField(max_length=60)),
                ('key_hash', models.CharField(max_length=64, unique=True)),
                ('added_at', models.DateTimeField(auto_now_add=True)),
                ('ended_at', models.DateTimeField(null=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('rig', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='receivers', to='rigs.rig')),
            ],
            options={
                'ordering': ['id'],
            },
        ),
        migrations.AddField(
            model_name='drive',
            name='receiver',
            field=models.ForeignKey(null=True, on_delete=django.db.models.deletion.PROTECT, related_name='drives', to='sensors.receiver'),
        ),
        migrations.AddIndex(
            model_name='drive',
            index=models.Index(fields=['rig', '-started_at'], name='sensors_dri_rig_id_1978d4_idx'),
        ),
    ]
