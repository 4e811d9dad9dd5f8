import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models


class Migration(migrations.Migration):

    dependencies = [
        ('rigs', '0007_tires_and_tread'),
        ('sensors', '0003_drives'),
        migrations.swappable_dependency(settings.AUTH_USER_MODEL),
    ]

    operations = [
        migrations.AddField(
            model_name='drive',
            name='source',
            field=models.CharField(blank=True, max_length=80),
        ),
        migrations.CreateModel(
            name='NumbersImport',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('uuid', models.UUIDField(unique=True)),
                ('name', models.CharField(max_length=80)),
                ('columns', models.JSONField()),
                ('delimiter', models.CharField(max_length=1)),
                ('begun_at', models.DateTimeField(auto_now_add=True)),
                ('by', models.ForeignKey(on_delete=django.db.models.deletion.PROTECT, related_name='+', to=settings.AUTH_USER_MODEL)),
                ('rig', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='+', to='rigs.rig')),
            ],
        ),
        migrations.CreateModel(
            name='ImportSlice',
            fields=[
                ('id', models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name='ID')),
                ('number', models.PositiveIntegerField()),
                ('rows', models.PositiveIntegerField()),
                ('read', models.BinaryField()),
                ('faults', models.JSONField()),
                ('of', models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name='slices', to='sensors.numbersimport')),
            ],
            options={
                'ordering': ['number'],
                'constraints': [models.UniqueConstraint(fields=('of', 'number'), name='slice_once')],
            },
        ),
    ]
