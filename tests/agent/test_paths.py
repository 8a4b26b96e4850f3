"""Which paths an agent touches at all."""

import pytest

from amberkey.agent.errors import FileProblem
from amberkey.agent.paths import sound_parts


@pytest.mark.parametrize("path", ["App/settings.json", "Library/Two words/a.b.c", "naïve/ключи.ini", "com.app/x"])
def test_a_plain_path_below_the_home_is_sound(path):
    assert "/".join(sound_parts(path)) == path


@pytest.mark.parametrize(
    "path, says",
    [
        ("../x", "outside"),
        ("a/../../x", "outside"),
        ("/etc/passwd", "outside"),
        ("a//b", "odd step"),
        ("", "odd step"),
        ("a/./b", "odd step"),
        ("a/b.", "odd step"),
        ("a/b ", "odd step"),
        ("a\\..\\b", "sign in it"),
        ("a/b.json:hidden", "sign in it"),
        ("C:/x", "sign in it"),
        ("a/b\0c", "sign in it"),
        ("a/\x1b[2J", "sign in it"),
        ("a/NUL", "device"),
        ("a/con.json", "device"),
        ("com1/x", "device"),
        (".amberkey/agent.json", "agent's own"),
        (".AmberKey/agent.json", "agent's own"),
        (".ssh/id_ed25519", "begins with a dot"),
        ("App/.secret", "begins with a dot"),
    ],
)
def test_every_other_path_is_refused(path, says):
    with pytest.raises(FileProblem, match=says):
        sound_parts(path)


def test_a_folder_with_a_dot_is_open_when_whoever_runs_the_machine_opened_it():
    allowed = [".config/tidewarden"]
    assert sound_parts(".config/tidewarden/settings.ini", allowed)
    for path in (".config/other/x.ini", ".config/tidewarden-2/x", ".config/tidewarden/.token", ".config/x"):
        with pytest.raises(FileProblem, match="begins with a dot"):
            sound_parts(path, allowed)
    with pytest.raises(FileProblem, match=r"with: allow \.config/other$"):
        sound_parts(".config/other/x.ini", allowed)
    assert sound_parts(".keys.ini", [".keys.ini"])
    with pytest.raises(FileProblem, match="agent's own"):
        sound_parts(".amberkey/agent.json", [".amberkey"])
