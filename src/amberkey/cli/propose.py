"""`amberkey propose`: keys for all tasks of a platform at once, with how good they are at least."""

from argparse import Namespace
from collections.abc import Iterable, Mapping

from amberkey.cli.answer import Answer, Facts, columns
from amberkey.cli.check import day_from
from amberkey.cli.errors import Wrong
from amberkey.cli.files import board_from, estate_of, organisation_in, read_one, setups_in, shelf_of
from amberkey.core.documents.canonical import text_of
from amberkey.core.keys.errors import ShortcutError
from amberkey.core.keys.reading import read_shortcut
from amberkey.core.keys.shortcut import Shortcut
from amberkey.core.proposing.apart import Apart
from amberkey.core.proposing.propose import Proposal, Proposer
from amberkey.core.proposing.question import CannotPropose, Question
from amberkey.core.standard.model import NO_STANDARD, Standard
