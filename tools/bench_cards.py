"""What cards cost: PYTHONPATH=src .venv/bin/python tools/bench_cards.py

The example organisation: one card as a PDF, the first of all and again; 200 cards by the job, for its roles on the keyboards of
their people, in four languages. Seconds.
"""

import gc
import os
import shutil
import statistics
import subprocess
import sys
import time

from targets import Target, told

from amberkey.launcher.postgres import Cluster

CARDS = 200


def main() -> int:
    if len(sys.argv) > 1:
        return work()
    cluster = Cluster("bench-cards", fast=True)
    cluster.start()
    env = {**os.environ, **cluster.environment(), "AMBERKEY_SECRET_KEY": "bench"}
    env |= {"DJANGO_SETTINGS_MODULE": "amberkey.server.settings", "AMBERKEY_DB_POOL": "0"}
    try:
        return subprocess.call([sys.executable, __file__, "work"], env=env)
    finally:
        cluster.stop()
        shutil.rmtree(cluster.folder)


def work() -> int:
    import django

    gc.set_threshold(100_000, 50, 1_000)  # as in the server
    django.setup()
    from django.core.management import call_command

    from amberkey.core.cards.content import setups_for
    from amberkey.core.cards.wish import CardWish
    from amberkey.core.documents.field import LANGUAGES
    from amberkey.demo.load import load_documents, load_people
    from amberkey.server.cards.drawing import drawn
    from amberkey.server.cards.models import CardBatch
    from amberkey.server.cards.printing import pdf_of
    from amberkey.server.cards.working import make
    from amberkey.server.estate import current_derived, current_estate, current_organisation

    call_command("migrate", verbosity=0)
    people = load_people()
    load_documents(people)
    estate, derived = current_estate(), current_derived()
    boards = dict.fromkeys((s.works_on, s.reads_by) for s in estate.setups.values())
    wishes = [
        CardWish(of="role", who=role.id, platform=platform, layout=layout, language=language)
        for language in LANGUAGES
        for role in current_organisation().roles
        for platform, layout in boards
    ]
    wishes = [w for w in wishes if setups_for(estate, w, derived)]
    wishes = (wishes * (1 + CARDS // len(wishes)))[:CARDS]
    begun = time.perf_counter()
    pdf_of(drawn(wishes[0]))
    first = time.perf_counter() - begun
    each = []
    for wish in wishes[:9]:
        begun = time.perf_counter()
        pdf_of(drawn(wish))
        each.append(time.perf_counter() - begun)
    batch = CardBatch.objects.create(wishes=[w.model_dump(mode="json") for w in wishes], form="pdf", made_by=people.user)
    begun = time.perf_counter()
    make(batch.pk)
    took = time.perf_counter() - begun
    batch.refresh_from_db()
    lines = sum(len(p.lines) for w in wishes[:20] for p in drawn(w).card.parts) / 20
    print(f"the very first: {first:.1f} s; {batch.done} cards of {lines:.0f} lines, {len(batch.file or b'') / 1e6:.1f} MB")
    batch = CardBatch.objects.create(wishes=batch.wishes, form="print", made_by=people.user)
    begun = time.perf_counter()
    make(batch.pk)
    print(f"the same in one PDF to print: {time.perf_counter() - begun:.0f} s, by one process")
    return told([Target("a card", statistics.median(each), 1, "s"), Target(f"{CARDS} cards by the job", took, 60, "s")])


if __name__ == "__main__":
    sys.exit(main())
