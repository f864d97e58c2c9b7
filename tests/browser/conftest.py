"""The whole application, started as a user starts it, with its demo data; and a browser to use it."""

import json
import os
import re
import shutil
import signal
import subprocess
import sys
import urllib.request
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from functools import partial
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, Error, JSHandle, Locator, Page, expect, sync_playwright

from tests.browser.short_weekend import shorten
from tests.conftest import made_once

# A state that comes at all comes soon on a machine with nothing else to do; others have neighbours.
expect.set_options(timeout=15_000)
ROOT = Path(__file__).resolve().parents[2]
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--autoplay-policy=no-user-gesture-required",
    # Of two such flags the last counts: these are Playwright's, and what prepares for typing into an address bar that no
    # test has, two more programs a window.
    "--disable-features=AvoidUnnecessaryBeforeUnloadCheckSync,DestroyProfileOnBrowserClose,HttpsUpgrades,"
    "HttpsFirstBalancedModeAutoEnable,LensOverlay,MediaRouter,PaintHolding,ThirdPartyStoragePartitioning,"
    "AvoidCorsURLLoaderRestartOnRedirect,OptimizationHints,NetworkTimeServiceQuerying,AimEnabled,PreconnectToSearch,"
    "WebUIOmniboxPopup,WebUIOmniboxAimPopup,WebUIOmniboxFullPopup",
]


RECORDED = """
import os, shutil, sys
from pathlib import Path
from drumcore.demo import files
from studio.__main__ import main

sessions = sorted(Path(sys.argv.pop(1)).iterdir())
files.write_sessions = lambda folder: [shutil.copytree(s, folder / s.name, copy_function=os.link) for s in sessions]
sys.exit(main())
"""
"""The studio, whose demo sessions are recorded already."""


@contextmanager
def running(data: Path, *start: str) -> Iterator[str]:
    """A studio on a data folder, its demo made if there is none; its address. It is stopped as Ctrl+C stops it."""
    environment = {**os.environ, "ZESTY_DATA": str(data), "PYTHONUNBUFFERED": "1"}
    command = [sys.executable, *(start or ("-m", "studio")), "--demo", "--port", str(_free_port())]
    process = subprocess.Popen(
        command, cwd=ROOT, env=environment, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, text=True
    )
    assert process.stdout is not None
    found, said = None, []
    for line in process.stdout:
        said.append(line)
        found = re.search(r"ready at (http://\S+)/", line)
        if found:
            break
    assert found, "".join(said)
    yield found.group(1)
    process.send_signal(signal.SIGINT)
    try:
        process.communicate(timeout=60)
    finally:
        process.kill()
    left = subprocess.run(["ps", "-eo", "args"], capture_output=True, text=True, check=True).stdout
    assert str(command[-1]) not in [word.split(":")[-1] for word in left.split()], "stopping it left a process behind"


@pytest.fixture(scope="session")
def weekend(tmp_path_factory: pytest.TempPathFactory, demo_sessions: Path) -> Path:
    """The demo's sessions, cut short."""
    return made_once(tmp_path_factory, "short-weekend", partial(shorten, demo_sessions))


@pytest.fixture(scope="session")
def address(tmp_path_factory: pytest.TempPathFactory, weekend: Path) -> Iterator[str]:
    """The studio's address; it runs with a data folder of its own, a copy of one whose demo was made once."""

    def make(data: Path) -> None:
        data.mkdir()
        with running(data, "-c", RECORDED, str(weekend)) as address:
            _kits_of_its_own(address)

    data = tmp_path_factory.mktemp("studio") / "data"
    shutil.copytree(made_once(tmp_path_factory, "studio-made", make), data)
    with running(data) as address:
        yield address


def _ask(address: str, path: str, body: object = None):
    data = None if body is None else json.dumps(body).encode()
    request = urllib.request.Request(f"{address}/api{path}", data, {"Content-Type": "application/json"})
    with urllib.request.urlopen(request) as answer:
        return json.loads(answer.read())


def _kits_of_its_own(address: str) -> None:
    """Copies of the kits that ship, under their names, for tests to change; those that ship are put away until a test wants
    one of them."""
    shipped = _ask(address, "/kits")
    for kit in shipped:
        _ask(address, f"/library/kits/{kit['id']}/duplicate", {"name": kit["name"]})
    put_away = {"things": [{"kind": "kits", "id": kit["id"]} for kit in shipped], "put_away": True}
    _ask(address, "/library/put-away", put_away)


@pytest.fixture(scope="module", autouse=True)
def library_as_it_was(address: str) -> Iterator[None]:
    """Every file of tests finds the kits as they were made and no others, whichever files its process had before."""
    before = {kit["id"] for kit in _ask(address, "/kits")}
    yield
    others = [{"kind": "kits", "id": kit["id"]} for kit in _ask(address, "/kits") if kit["id"] not in before]
    if others:
        _ask(address, "/library/remove", {"things": others, "sessions": True})
    for kit in before:
        as_new(partial(_ask, address), kit)


def _free_port() -> int:
    import socket

    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
    with sync_playwright() as playwright:
        launched = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        yield launched
        launched.close()


HUSHED = """(() => {
  const ask = window.fetch;
  const silence = new Uint8Array(46);
  const view = new DataView(silence.buffer);
  const words = { 0: 'RIFF', 8: 'WAVE', 12: 'fmt ', 36: 'data' };
  for (const [at, word] of Object.entries(words)) [...word].forEach((c, i) => { silence[+at + i] = c.charCodeAt(0); });
  const numbers = [[4, 38], [16, 16], [24, 48000], [28, 96000], [40, 2]];
  for (const [at, number] of numbers) view.setUint32(at, number, true);
  for (const [at, number] of [[20, 1], [22, 1], [32, 2], [34, 16]]) view.setUint16(at, number, true);
  window.fetch = async (what, how) => {
    const asked = String(what).split('/api/sounds/together/')[1]?.split('of=').slice(1).map((of) => of.split(',')[0]);
    if (!asked) return ask(what, how);
    // It asks while it is made.
    while (!window.zestySkin.player()) await new Promise((again) => setTimeout(again));
    const pieces = [...window.zestySkin.player().table.pieces.values()].filter(({ id }) => !window.heard.includes(id));
    const others = new Set(pieces.flatMap((piece) => piece.articulations).flatMap((articulation) =>
      articulation.takes.flatMap((take) => take.voices.flatMap((v) => [v.sound, ...(v.tuned ?? [])]))).map((s) => s.content));
    if (!asked.every((content) => others.has(content))) return ask(what, how);
    const answer = new Uint8Array(50 * asked.length);
    asked.forEach((_, place) => { answer[50 * place + 3] = 46; answer.set(silence, 50 * place + 4); });
    return new Response(answer);
  };
})();"""
"""The kit's pieces have their recordings if they are among `window.heard`; those of others are a sample of silence each."""


def hears(page: Page, *pieces: str) -> None:
    """From its next address on a page has the recordings of these pieces, and silence for others: a kit's hundreds cost
    more than all that is looked at. A page that was told nothing has them all."""
    page.add_init_script(f"window.heard = {json.dumps(pieces)};{HUSHED}")


@pytest.fixture
def page(browser: Browser, address: str) -> Iterator[Page]:
    """A page on the studio. A script error in it fails the test."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, base_url=address, accept_downloads=True)
    opened = context.new_page()
    errors: list[str] = []
    opened.on("pageerror", lambda error: errors.append(str(error)))
    yield opened
    context.close()
    assert not errors, errors


@pytest.hookimpl(wrapper=True)
def pytest_runtest_makereport(item: pytest.Item, call: pytest.CallInfo[None]):
    """What the page said when a test failed, and what the studio was at."""
    report = yield
    page = getattr(item, "funcargs", {}).get("page")
    if call.when == "call" and report.failed and page is not None:
        with suppress(Error, OSError):
            report.sections.append(("The page said", page.locator("body").inner_text(timeout=5_000)[:3000]))
            if kit := re.search("/kits/([^/?]+)", page.url):
                jobs = page.request.get(f"/api/kits/{kit.group(1)}/jobs", timeout=5_000)
                report.sections.append(("Jobs", jobs.text()[:3000]))
    return report


@pytest.fixture
def fetch(address: str):
    """A GET of the studio's API, as text."""

    def get(path: str) -> str:
        with urllib.request.urlopen(address + path) as answer:
            return answer.read().decode()

    return get


LOADED = """(pieces) => {
  const { table, sounds } = window.zestySkin.player();
  return pieces.every((id) => table.pieces.get(id).articulations.every((a) =>
    a.takes.every((take) => take.voices.every((voice) => sounds.has(voice.sound)))));
}"""


def holds(page: Page, what: str, arg: object = None, *, within_ms: float = 30_000, every_ms: float = 50) -> JSHandle:
    """Waits until what a page is asked is so, and gives what it answered. Asked with every frame, as is usual, a page draws
    for that alone."""
    return page.wait_for_function(what, arg=arg, timeout=within_ms, polling=every_ms)


def quiet(page: Page, under: float = 1e-4, **how: float) -> None:
    """Waits until nothing is heard any more."""
    holds(page, f"() => window.zestySkin.player().heard.peak() < {under}", **how)


def loaded(page: Page, *pieces: str) -> None:
    """Wait for all sounds of some pieces. The whole kit takes a browser without a sound card many times as long."""
    page.evaluate("(pieces) => pieces.forEach((id) => window.zestySkin.player().showing(id))", list(pieces))
    holds(page, LOADED, list(pieces), within_ms=120_000, every_ms=100)


@pytest.fixture
def kit(page: Page, fetch):
    """The main demo kit, open at a step, with the sounds loaded of those pieces that are listened to, and of no others."""

    def open_at(step: str, *listened_to: str) -> None:
        hears(page, *listened_to)
        found = next(k for k in json.loads(fetch("/api/kits")) if k["name"] == "Boathouse No. 4")
        page.goto(f"/kits/{found['id']}/{step}")
        expect(page.get_by_test_id("all-loaded").or_(page.get_by_test_id("loading"))).to_be_attached()
        if listened_to:
            loaded(page, *listened_to)

    return open_at


LISTEN = """(whole) => {
  const p = window.zestySkin.player();
  const ear = { outputs: {}, channels: {}, channels: {}, all: { heard: 0 }, sides: [0, 0] };
  window.ear = ear;
  clearTimeout(window.listening);
  for (const stop of window.ears ?? []) stop();
  window.ears = [];
  const looks = [];
  const higher = (of, which, peak) => { of[which] = Math.max(of[which] || 0, peak); };
  // Ears of its own that remember three seconds: loading keeps a page busy for longer than its meters look back. Each after
  // the first hears what the one before it heard two thirds of a second ago, and is asked only when nobody looked for so long.
  const [deep, span] = [5, 32768 - 2048];
  const hear = (node, sides, keep) => {
    const split = new ChannelSplitterNode(p.context, { numberOfOutputs: sides });
    node.connect(split);
    window.ears.push(() => { try { node.disconnect(split); } catch {} });
    for (let side = 0; side < sides; side += 1) {
      const samples = new Float32Array(32768);
      let heard = new GainNode(p.context);
      split.connect(heard, side);
      const ears = Array.from({ length: deep }, () => {
        const analyser = heard.connect(new AnalyserNode(p.context, { fftSize: 32768 }));
        const delayTime = span / p.context.sampleRate;
        heard = heard.connect(new DelayNode(p.context, { delayTime }));
        return analyser;
      });
      // Only what has come since the last look is gone through, and a little more.
      let looked = p.context.currentTime;
      looks.push(() => {
        let peak = 0;
        const before = p.context.currentTime;
        for (let older = 0; older < deep; older += 1) {
          ears[older].getFloatTimeDomainData(samples);
          // By the clock of each ear, after it was read: a page that stands still amid a look would leave a gap there.
          const left = Math.ceil((p.context.currentTime - looked) * p.context.sampleRate) - older * span;
          const first = Math.max(0, samples.length - 2048 - left);
          for (let i = first; i < samples.length; i += 1) peak = Math.max(peak, Math.abs(samples[i]));
          if (left <= span) break;
        }
        looked = before;
        keep(peak, side);
      });
    }
  };
  for (const [number, node] of whole ? [] : p.graph.outputs) {
    hear(node, node.channelCount, (peak, side) => {
      higher(ear.outputs, number, peak);
      if (number === 1) higher(ear.sides, side, peak);
    });
  }
  for (const { id, matrix } of whole ? [] : p.table.head.channels) {
    hear(p.leaving(id), matrix.length, (peak) => higher(ear.channels, id, peak));
  }
  hear(p.leaves.heard, 2, (peak) => higher(ear.all, 'heard', peak));
  window.look = () => {
    for (const look of looks) look();
    // What a channel's own meter shows.
    for (const { id } of p.table.head.channels) higher(ear.channels, id, p.channelPeak(id));
  };
  // A slow machine has time for the page as well: looking takes a third of it at most.
  const again = () => {
    const then = performance.now();
    window.look();
    window.listening = setTimeout(again, Math.max(30, 2 * (performance.now() - then)));
  };
  window.listening = setTimeout(again, 30);
}"""


def listen(page: Page, *, whole: bool = False) -> None:
    """From now on the highest peak of every output and channel is kept, or of the `whole` kit alone, however seldom a busy machine
    looks; what was turned before has arrived by then, on the clock of the sound, which stands still while it is busy."""
    now = page.evaluate("() => { const p = window.zestySkin.player(); p.wake(); return p.context.currentTime; }")
    holds(page, "(then) => window.zestySkin.player().context.currentTime > then", now + 0.3)
    page.evaluate(LISTEN, whole)


def died_away(page: Page, under: float, channel: str | None = None) -> dict:
    """Waits until it is silent, there or at all, and gives the highest that was heard since `listen`."""
    peak = f"channelPeak({json.dumps(channel)})" if channel else "heard.peak()"
    holds(page, f"() => window.zestySkin.player().{peak} < {under}")
    return page.evaluate("() => { window.look(); return window.ear; }")


def came(page: Page, where: str = "all", which: int | str = "heard", over: float = 0.01) -> dict:
    """Waits until it sounded there, and gives all that was heard since `listen`."""
    return holds(page, f"() => window.ear.{where}[{json.dumps(which)}] > {over} && window.ear").json_value()


def opened(page: Page, fetch, name: str = "Boathouse No. 4", *, hear: tuple[str, ...] | None = None) -> str:
    """A kit open at Routing, with the sounds of the pieces to `hear`, or of all for None; its identifier."""
    if hear is not None:
        hears(page, *hear)
    kit = next(k for k in json.loads(fetch("/api/kits")) if k["name"] == name)["id"]
    page.goto(f"/kits/{kit}/routing")
    expect(page.get_by_role("heading", name="Routing")).to_be_visible()
    return kit


BUILT = 1
"""The version at which a copy of a demo kit has its pieces, and nothing was done to it yet."""


def as_new(ask: Callable[..., Any], kit: str) -> None:
    """A kit goes back to what it was when it was made, and loses its buses."""
    asked = {"base_version": ask(f"/kits/{kit}/version")["version"], "as_it_was": {"version": BUILT, "routing": False}}
    ask(f"/kits/{kit}/back", asked)
    state = ask(f"/kits/{kit}")
    edits = [{"kind": "remove_bus", "bus": bus["id"]} for bus in state["head"]["buses"]]
    if edits:
        edit = {"kind": "several", "said": "A mix as it was new", "edits": edits}
        ask(f"/kits/{kit}/edits", {"base_version": state["version"], "edit": edit})


def fresh(page: Page, fetch, name: str, *, hear: tuple[str, ...] | None = None) -> str:
    """A kit open at Routing as it was made, without buses: whoever used it before may have left anything."""

    def ask(path: str, body: object = None):
        answer = page.request.get(f"/api{path}") if body is None else page.request.post(f"/api{path}", data=body)
        assert answer.ok, answer.text()
        return answer.json()

    as_new(ask, next(k for k in json.loads(fetch("/api/kits")) if k["name"] == name)["id"])
    return opened(page, fetch, name, hear=hear)


def of_lantern(dialog: Locator, piece: str) -> Locator:
    """A piece of Tin Lantern among those that are offered, whichever others still are."""
    also = dialog.get_by_role("checkbox", name=f"Also {piece} of Tin Lantern", exact=True)
    return also.locator("xpath=ancestor::div[1]").get_by_role("button")


@pytest.fixture
def studio(page: Page):
    """What a script asks of the studio the page is on."""

    class Asked:
        made: set[str] = set()

        def get(self, path: str):
            return page.request.get(f"/api{path}").json()

        def post(self, path: str, body: object = None):
            answer = page.request.post(f"/api{path}", data=body or {})
            assert answer.ok, answer.text()
            return answer.json()

        def kit(self, name: str) -> str:
            return next(kit["id"] for kit in self.get("/kits") if kit["name"] == name)

        def new(self, name: str) -> str:
            kit = self.post("/kits", {"name": name})["id"]
            self.made.add(kit)
            return kit

        def copy(self, of: str, name: str) -> str:
            kit = self.post(f"/library/kits/{self.kit(of)}/duplicate", {"name": name})["id"]
            self.made.add(kit)
            return kit

        def remove(self, *kits: str) -> None:
            self.made -= set(kits)
            for first in range(0, len(kits), 200):
                some = [{"kind": "kits", "id": kit} for kit in kits[first : first + 200]]
                self.post("/library/remove", {"things": some, "sessions": True})

    asked = Asked()
    yield asked
    # Whatever became of the test, the next one finds the library as it was.
    asked.remove(*asked.made)
