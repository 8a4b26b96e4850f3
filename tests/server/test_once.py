"""In a request that only reads, a question to the database is asked once; anywhere else each time."""

import pytest

from amberkey.server.once import once, reading


@pytest.fixture
def asked():
    calls = []

    @once
    def ask(what, *, released=False):
        calls.append((what, released))
        return len(calls)

    return ask, calls


def test_within_one_reading_an_answer_stays(asked):
    ask, calls = asked
    with reading():
        assert [ask("a"), ask("a"), ask("b"), ask("a", released=True), ask("a")] == [1, 1, 2, 3, 1]
    assert calls == [("a", False), ("b", False), ("a", True)]


def test_outside_of_it_every_question_is_asked(asked):
    ask, _ = asked
    with reading():
        ask("a")
    assert [ask("a"), ask("a")] == [2, 3]
    with reading():
        assert ask("a") == 4


def test_a_reading_within_another_one_asks_anew_and_leaves_the_outer_one_as_it_was(asked):
    ask, _ = asked
    with reading():
        assert ask("a") == 1
        with reading():
            assert ask("a") == 2
        assert ask("a") == 1


def test_pages_ask_for_the_documents_once(ines, django_assert_max_num_queries):
    ines.get("/machines")
    with django_assert_max_num_queries(25) as asked:
        ines.get("/machines")
    said = [q["sql"] for q in asked.captured_queries]
    assert sum('FROM "library_document"' in q and "released__body_id" in q for q in said) <= 1
