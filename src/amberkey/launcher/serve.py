"""`demo` and `start`: everything up, the address printed, everything down again."""

import json
import os
import pathlib
import shutil
import signal
import sys
import tempfile
import time
from collections.abc import Mapping

from amberkey.launcher import debian, front_end, python_env, state
from amberkey.launcher.data import DataFolder
from amberkey.launcher.postgres import Cluster
from amberkey.launcher.processes import Processes, claim, pid_file
from amberkey.launcher.python_env import PYTHON, environment
from amberkey.launcher.say import ROOT, Stop, run, step

PREFERRED_PORT = 8470
AGENT_PAUSE = "1"  # seconds between rounds of a simulated machine
SIGN_INS = (
    ("ines", "releaser: decides, releases, applies"),
    ("jorun", "editor: decides"),
    ("tove", "reader: looks"),
    ("arvid", "administrator"),
)
PASSWORD = "ferry-crossing"  # noqa: S105


def demo(port: int | None) -> None:
    """The example organisation on a private database, until Ctrl+C."""
    begun = time.monotonic()
    print("Amber Key, with the example of Merrow Strait Ferries", flush=True)
    claim()
    cluster: Cluster | None = None
    processes = Processes()
    try:
        port = state.free_port(port, PREFERRED_PORT)
        debian.ensure(debian.DATABASE, *debian.PANGO)
        python_env.ensure(development=False)
        front_end.ensure_build()
        cluster = Cluster("demo")
        cluster.start()
        env = environment(
            **cluster.environment(),
            AMBERKEY_SECRET_KEY=state.secret("secret-key"),
            AMBERKEY_SIGNING_KEY_FILE=str(state.signing_key(state.folder())),
        )
        machines = state.folder() / "machines"
        _prepare(env, machines)
        processes.start("web", _gunicorn(f"127.0.0.1:{port}"), _for_figures(env))
        address = f"http://127.0.0.1:{port}"
        processes.start("worker", WORKER, env)
        processes.wait_for("web", f"{address}/api/session")
        _start_machines(processes, machines, address)
        _print_address(address, machines, time.monotonic() - begun)
        processes.watch()
    except KeyboardInterrupt:
        print("\nStopping.", flush=True)
    finally:
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        processes.stop()
        if cluster is not None:
            cluster.stop()
        pid_file().unlink(missing_ok=True)


def _prepare(env: dict[str, str], machines: pathlib.Path) -> None:
    """Migrate and load, unless this very code did so on this database before."""
    run(
        "Bringing the database up to date",
        [PYTHON, "-m", "amberkey.demo.prepare", machines],
        hint="See the lines above.",
        env=env,
    )


def _gunicorn(bind: str) -> list[str | pathlib.Path]:
    """How it serves (processes, threads) says amberkey.server.serving."""
    serving = ["--config", "python:amberkey.server.serving", "--bind", bind]
    return [PYTHON, "-m", "gunicorn", *serving, "amberkey.server.wsgi:application"]


def _for_figures(env: dict[str, str]) -> dict[str, str]:
    """Several processes add up their figures in files; those of an earlier start are gone."""
    if int(env.get("AMBERKEY_PROCESSES", "1")) < 2:
        return env
    folder = env.get("PROMETHEUS_MULTIPROC_DIR") or tempfile.mkdtemp(prefix="amberkey-figures-")
    shutil.rmtree(folder, ignore_errors=True)
    os.makedirs(folder)
    return {**env, "PROMETHEUS_MULTIPROC_DIR": folder}


def _start_machines(processes: Processes, machines: pathlib.Path, address: str) -> None:
    fleet = machines / "fleet"
    if (fleet / "fleet.json").exists():
        command: list[str | pathlib.Path] = [PYTHON, "-m", "amberkey.demo.fleet", fleet, address]
        processes.start("fleet", command, environment(), vital=False)
    for place in sorted(machines.iterdir()) if machines.exists() else []:
        if place == fleet:
            continue
        home = place / "home"
        code = place / "enrol-code"
        env = environment(AMBERKEY_MACHINE_FACTS=str(place / "facts.json"))
        if code.exists():
            where: list[str | pathlib.Path] = ["--home", home, "--account", (place / "account").read_text()]
            run(
                f"Enrolling the machine {place.name}",
                [PYTHON, "-m", "amberkey.agent", "enrol", "--server", address, "--code", code.read_text(), *where],
                hint=f"Remove {place} to set the machine up anew.",
                env=env,
            )
            code.unlink()
            told = place / "agent-is-told.json"
            for words in json.loads(told.read_text()) if told.exists() else []:
                verb = [PYTHON, "-m", "amberkey.agent", words[0], "--home", home, *words[1:]]
                run(f"Telling the agent of {place.name}: {words[0]}", verb, hint="See the lines above.", env=env)
        else:
            _point_agent(home, address)
        agent: list[str | pathlib.Path] = [PYTHON, "-m", "amberkey.agent", "run", "--home", home, "--every", AGENT_PAUSE]
        processes.start(f"machine-{place.name}", agent, env, vital=False)
        programs = place / "programs.json"
        for words in json.loads(programs.read_text()) if programs.exists() else []:
            command = [PYTHON, "-m", "amberkey.demo.programs", *words]
            processes.start(f"{words[0]}-on-{place.name}", command, env, vital=False)


def _point_agent(home: pathlib.Path, address: str) -> None:
    """The demo's port may be another one this time."""
    file = home / ".amberkey/agent.json"
    known = json.loads(file.read_text())
    file.write_text(json.dumps({**known, "server": address}))


def _print_address(address: str, machines: pathlib.Path, took: float) -> None:
    print(f"\nReady after {took:.1f} s:  {address}\n")
    print(f"Sign in with one of these names and the password {PASSWORD}")
    for name, role in SIGN_INS:
        print(f"  {name:<8}{role}")
    print(f"\nThe simulated machines have their homes in {machines}")
    print("Ctrl+C stops everything.", flush=True)


WORKER: list[str | pathlib.Path] = [PYTHON, "-m", "amberkey.server.jobs"]
_DATABASE = {
    "AMBERKEY_DB_HOST": "the host of your PostgreSQL server",
    "AMBERKEY_DB_PASSWORD": "the password of its user (AMBERKEY_DB_USER, amberkey if not given)",
}
_NEEDED = {
    **_DATABASE,
    "AMBERKEY_SECRET_KEY": "a long random text that signs sessions",
    "AMBERKEY_HOSTS": "the host names under which people reach Amber Key, with commas between",
}


def start(port: int | None = None) -> None:
    """Amber Key itself: on a data folder of its own, or on the database server that environment variables name."""
    if any(name.startswith("AMBERKEY_DB_") for name in os.environ):
        _start_on_given()
    else:
        _start_on_own(port)


def _start_on_own(port: int | None) -> None:
    """A private database in the data folder, web server and worker, until Ctrl+C."""
    begun = time.monotonic()
    data = DataFolder()
    print(f"Amber Key, with your own data in {data.place}", flush=True)
    debian.ensure(debian.DATABASE, *debian.PANGO)
    data.open()
    cluster: Cluster | None = None
    processes = Processes(data.place)
    try:
        bind = os.environ.get("AMBERKEY_BIND") or f"127.0.0.1:{state.free_port(port, PREFERRED_PORT)}"
        state.wait_for_port(bind)
        python_env.ensure(development=False)
        front_end.ensure_build()
        cluster = Cluster("own", home=data.place)
        cluster.start(adopt=True)
        key = os.environ.get("AMBERKEY_SECRET_KEY") or state.secret("secret-key", data.place)
        env = environment(**cluster.environment(), AMBERKEY_SECRET_KEY=key)
        env["AMBERKEY_SIGNING_KEY_FILE"] = str(state.signing_key(data.place))
        link = _bring_up_to_date(env, f"Its log is {cluster.folder / 'log'}.")
        address = f"http://{bind}"
        processes.start("web", _gunicorn(bind), _for_figures(env))
        processes.start("worker", WORKER, env)
        processes.wait_for("web", f"{address}/health")
        data.note_address(address)
        print(f"\nReady after {time.monotonic() - begun:.1f} s:  {address}")
        _print_link(address, link)
        print(
            "\nThe example organisation is `./amberkey demo`, beside this and apart from it.\nCtrl+C stops everything.",
            flush=True,
        )
        processes.watch()
    except KeyboardInterrupt:
        print("\nStopping.", flush=True)
    finally:
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        processes.stop()
        if cluster is not None:
            cluster.stop()


def _start_on_given() -> None:
    _need(_NEEDED)
    if not os.environ.get("AMBERKEY_PROCESSES", "1").isdigit():
        raise Stop("AMBERKEY_PROCESSES is how many processes answer: give a number, 1 or 2 for instance.")
    python_env.ensure(development=False)
    front_end.ensure_build()
    env = environment()
    link = _bring_up_to_date(env, "Check the AMBERKEY_DB_ variables and that the database can be reached.")
    bind = os.environ.get("AMBERKEY_BIND", "127.0.0.1:8470")
    state.wait_for_port(bind)
    env = _for_figures(env)
    step(f"Serving on {bind}")
    scheme = "https" if os.environ.get("AMBERKEY_HTTPS") == "1" else "http"
    _print_link(f"{scheme}://{os.environ['AMBERKEY_HOSTS'].split(',')[0]}", link)
    command = [str(c) for c in _gunicorn(bind)]
    os.chdir(ROOT)
    sys.stdout.flush()
    os.execve(command[0], command, env)  # noqa: S606


def _bring_up_to_date(env: dict[str, str], hint: str) -> str | None:
    """Migrate; the secret of a one-time link where there is no administrator yet."""
    said = run(
        "Bringing the database up to date",
        [PYTHON, "-m", "amberkey.server.beginning.prepare"],
        hint=hint,
        env=env,
    )
    link: str | None = json.loads(said.splitlines()[-1])["link"]
    return link


def _print_link(address: str, link: str | None) -> None:
    if link is not None:
        print("\nThere is no administrator yet. Whoever opens this address becomes the first one; it works once, for 48 hours:")
        print(f"  {address}/link#{link}", flush=True)


def work() -> None:
    """A worker for the jobs of a real database, on this host or another one than the web server's."""
    _need(_DATABASE)
    python_env.ensure(development=False)
    step("Waiting for jobs")
    command = [str(c) for c in WORKER]
    os.chdir(ROOT)
    sys.stdout.flush()
    os.execve(command[0], command, environment())  # noqa: S606


def _need(variables: Mapping[str, str]) -> None:
    missing = [f"{name} ({why})" for name, why in variables.items() if not os.environ.get(name)]
    if missing:
        raise Stop("Set these environment variables first: " + "; ".join(missing))
