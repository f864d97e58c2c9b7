"""The command `zesty`, from a folder of recordings to stems, as a script uses it."""

import json

import pytest
import soundfile

from drumcore.cli.main import main
from drumcore.demo.grooves import demo_grooves
from drumcore.edits.apply import apply
from drumcore.edits.channels import SetChannel
from drumcore.edits.layers import SetRange
from drumcore.formats.kit_file import contents_of, read_kit_file, write_kit_file
from drumcore.formats.midi import write_midi
from tests.printed import DOCS


def run(capsys, *arguments) -> tuple[int, str, str]:
    status = main([str(a) for a in arguments])
    out, err = capsys.readouterr()
    return status, out, err


@pytest.fixture
def kit(small_session, tmp_path, capsys):
    path = tmp_path / "Small.zestykit"
    assert run(capsys, "build", small_session, "-o", path)[0] == 0
    return path


def test_read_prints_the_documented_json(small_session, capsys):
    status, out, err = run(capsys, "read", small_session, "--json")
    found = json.loads(out)
    assert (status, err) == (0, "")
    assert set(found) == {"microphones", "pieces", "unread", "findings"}
    assert {m["name"]: (m["kind"], m["width"]) for m in found["microphones"]} == {
        "Kick mic": ("close", "mono"),
        "Snare mic": ("close", "mono"),
        "Hat mic": ("close", "mono"),
        "Overheads": ("overhead", "stereo"),
        "Room": ("room", "stereo"),
    }
    snare = next(p for p in found["pieces"] if p["name"] == "Snare")
    layers = snare["articulations"][0]["layers"]
    assert (snare["family"], [len(y["takes"]) for y in layers]) == ("snare", [3, 3, 3, 3])
    levels = [y["takes"][0]["level_db"] for y in layers]
    assert levels == sorted(levels)
    take = layers[0]["takes"][0]
    assert take["recordings"]["Snare mic"] == "Snare mic/sn_01_1.wav"
    assert take["start_ms"] == pytest.approx(10, abs=0.7) and take["hand"] is None


def test_hit_says_what_sounded_and_where_it_arrived(kit, capsys):
    status, out, _ = run(capsys, "hit", kit, 38, 100, "--strikes", 3, "--json")
    strikes = json.loads(out)["strikes"]
    assert status == 0
    assert [(s["velocity"], s["articulation"], s["layer"], s["take"]) for s in strikes] == [
        (100, "centre", strikes[0]["layer"], take) for take in (0, 1, 2)
    ]
    assert [[o["number"] for o in s["outputs"]] for s in strikes] == [[1]] * 3
    status, out, err = run(capsys, "hit", kit, 99, 100, "--json")
    assert (status, json.loads(out)["strikes"][0]["outputs"]) == (0, []) and "sounds nothing" in err


def test_render_writes_one_file_an_output(kit, tmp_path, capsys):
    write_midi(demo_grooves()[2], tmp_path / "turn.mid")
    status, out, _ = run(
        capsys, "render", kit, tmp_path / "turn.mid", "-o", tmp_path / "out", "--rate", 44100, "--bits", 16, "--json"
    )
    listed = json.loads(out)
    assert status == 0 and listed == json.loads((tmp_path / "out" / "stems.json").read_text())
    info = soundfile.info(tmp_path / "out" / listed["stems"][0]["file"])
    assert (info.samplerate, info.subtype, info.frames) == (44100, "PCM_16", listed["frames"])


def test_check_ends_with_1_where_something_is_wrong(kit, small_session, tmp_path, capsys):
    status, out, _ = run(capsys, "check", kit, "--json")
    assert status == 0 and not [f for f in json.loads(out)["findings"] if f["level"] == "wrong"]
    wrong = tmp_path / "wrong.zestykit"
    import zipfile

    with zipfile.ZipFile(kit) as old, zipfile.ZipFile(wrong, "w") as new:
        for name in old.namelist()[:-1]:
            new.writestr(name, old.read(name))
    status, out, err = run(capsys, "check", wrong, "--json")
    assert status == 1 and json.loads(out)["findings"][0]["level"] == "wrong" and "missing" in err
    # A fix is the edit that fixes, with what it says and nothing else.
    uneven = apply(
        read_kit_file(kit, tmp_path / "there").kit, SetRange(articulation="snare/centre", layer=1, low=40, high=50)
    )
    places = {content: tmp_path / "there" / f"{content}.flac" for content in contents_of(uneven)}
    write_kit_file(uneven, lambda content: places[content], tmp_path / "uneven.zestykit")
    _, out, _ = run(capsys, "check", tmp_path / "uneven.zestykit", "--json")
    gap = next(f for f in json.loads(out)["findings"] if f["rule"] == "gap")
    assert gap["fixes"][0] == {"label": "Close the gap", "edit": {"kind": "close_gaps", "articulation": "snare/centre"}}
    assert set(gap) == {"rule", "level", "place", "sentence", "fixes"}
    _, plain, _ = run(capsys, "check", tmp_path / "uneven.zestykit")
    assert plain.splitlines()[0] == f"wrong         Nothing plays from 32 to 39. {gap['sentence']}"
    assert status == 1 and gap["level"] == "wrong" and gap["place"]


def test_check_strikes_every_line_where_it_is_asked_to(kit, small_kit, sounds, tmp_path, capsys):
    status, out, _ = run(capsys, "check", kit, "--lines", "--json")
    lines = json.loads(out)["lines"]
    assert status == 0 and {line["verdict"] for line in lines} == {"as_planned"}
    articulations = [(p.name, a.name) for p in small_kit.pieces for a in p.articulations]
    assert [(line["piece"], line["articulation"]) for line in lines] == articulations
    assert [len(output["peaks_dbfs"]) for output in lines[0]["outputs"]] == [2]
    muted = small_kit
    for channel in ("kick-channel", "overheads-channel", "room-channel"):
        muted = apply(muted, SetChannel(channel=channel, muted=True))
    write_kit_file(muted, sounds._locate, tmp_path / "muted.zestykit")
    status, out, _ = run(capsys, "check", tmp_path / "muted.zestykit", "--lines")
    assert status == 1
    said = next(line for line in out.splitlines() if line.startswith("Kick"))
    assert "nowhere" in said and said.endswith("no output")


@pytest.mark.parametrize(
    "arguments",
    [
        ("read", "{tmp}/nowhere"),
        ("read", "{tmp}/bare"),
        ("build", "{tmp}/bare", "-o", "{tmp}/x.zestykit"),
        ("check", "{tmp}/nothing.zestykit"),
        ("check", "{tmp}/letter.zestykit"),
        ("hit", "{tmp}/letter.zestykit", "38", "100"),
        ("render", "{kit}", "{tmp}/letter.mid", "-o", "{tmp}/out"),
    ],
)
def test_unusable_input_ends_with_2_and_one_sentence(arguments, kit, tmp_path, capsys):
    (tmp_path / "bare").mkdir()
    for name in ("letter.zestykit", "letter.mid"):
        (tmp_path / name).write_text("Buy lamp oil.")
    status, out, err = run(capsys, *(a.format(tmp=tmp_path, kit=kit) for a in arguments))
    assert (status, out) == (2, "")
    assert err.count("\n") == 1 and err.rstrip().endswith(".")


def test_build_keeps_the_good_and_says_what_it_left(small_session, tmp_path, capsys):
    import shutil

    root = tmp_path / "with letter"
    shutil.copytree(small_session, root)
    (root / "Kick mic" / "kick_01_1.wav").write_text("Buy lamp oil.")
    status, out, err = run(capsys, "build", root, "-o", tmp_path / "k.zestykit")
    assert status == 0 and "1 files left out" in out
    assert err == "Kick mic/kick_01_1.wav is not audio that can be read; export it again as WAV, AIFF or FLAC.\n"


def test_a_kit_is_routed_by_a_plan_that_ships_or_lies_in_a_file(kit, tmp_path, capsys):
    out = tmp_path / "routed.zestykit"
    status, said, err = run(capsys, "route", kit, "--plan", "Pairs for a small host", "--host", "Raft", "-o", out)
    assert (status, err) == (0, "")
    assert "Kick: main → 2 Kick, Snare, left" in said and "Raft has no stereo output left for Toms" not in said
    assert "Raft has no stereo output left for Overheads and room; Room goes to main." in said
    plan, host = tmp_path / "tour.json", tmp_path / "pit.json"
    plan.write_text('{"routing_plan": 1, "name": "Tour", "rules": [{"track": "Low", "families": ["kick"]}]}')
    host.write_text('{"host_outputs": 1, "runs": [{"width": "stereo", "count": 2, "called": "Desk", "first": 7}]}')
    status, said, _ = run(capsys, "route", out, "--plan", plan, "--host", host, "-o", out)
    assert status == 0 and "Kick: 2 Kick, Snare, left → 2 Low" in said
    status, said, _ = run(capsys, "sheet", out, "--as", "json")
    tracks = json.loads(said)["tracks"]
    assert [(t["number"], t["called"], t["track"]) for t in tracks] == [
        (1, "Desk 7", "Track 1"),
        (2, "Desk 8", "Track 2"),
    ]
    assert tracks[1]["arrives"] == ["Kick"]
    status, said, err = run(capsys, "route", kit, "--plan", "No such plan", "-o", out)
    assert status == 2 and "neither a file nor a routing plan that ships; those are One output per piece" in err


def test_the_track_sheet_says_what_strikes_what_and_where_it_leaves(kit, tmp_path, capsys):
    assert run(capsys, "route", kit, "--plan", "one-output-a-piece", "--host", "skiff", "-o", kit)[0] == 0
    _, said, _ = run(capsys, "sheet", kit)
    lines = said.splitlines()
    assert lines[0] == "piece,articulation,note,note_name,output,called,side,track,also_at"
    assert "Kick,centre,36,C1,5,M 1,,Track 5,2 3" in lines
    assert {line.split(",")[0] for line in lines[1:]} == {"Kick", "Snare", "Hats", "Crash left"}
    page = tmp_path / "sheet.html"
    assert run(capsys, "sheet", kit, "--as", "html", "-o", page)[0] == 0
    text = page.read_text(encoding="utf-8")
    assert text.count("<tbody>") == 5 and "Articulations, notes and outputs" in text and "http" not in text


@pytest.mark.parametrize("form", ["kit", "edits", "table"])
def test_the_form_of_what_is_written_is_published_as_it_is(form, capsys):
    """Where it is meant to change: `make types` writes it, and docs/formats.md says what older files are."""
    status, out, _ = run(capsys, "schema", form)
    assert status == 0 and out == (DOCS / "schemas" / f"{form}.schema.json").read_text(encoding="utf-8")


def test_pieces_lists_articulations_and_microphones(kit, capsys):
    status, said, _ = run(capsys, "pieces", kit, "--json")
    pieces = {piece["name"]: piece for piece in json.loads(said)["pieces"]}
    assert status == 0 and set(pieces) == {"Kick", "Snare", "Hats", "Crash left"}
    assert pieces["Snare"] == {
        "name": "Snare",
        "family": "snare",
        "articulations": [{"name": "centre", "layers": 4, "takes": 12}],
        "microphones": ["Snare mic", "Overheads", "Room"],
    }
    status, said, _ = run(capsys, "pieces", kit)
    assert status == 0 and "Crash left (crash), heard by Overheads, Room" in said


def test_bring_puts_a_piece_of_another_kit_in_and_prints_what_that_does(kit, tmp_path, capsys):
    out = tmp_path / "Taken.zestykit"
    bring = ("bring", kit, "--piece", "snare", "--from", kit)
    status, said, err = run(capsys, *bring, "--place", "Kick", "--mics", "Snare mic,Room", "--as-loud", "-o", out)
    assert (status, err) == (0, "")
    lines = said.splitlines()
    assert lines[0] == "12 takes under 2 microphones are added."
    assert "It is heard in Snare 2 and Room, and goes to output 1 as before." in lines
    assert (
        "! Nothing of it enters Overheads: its microphone goes to another channel." in lines
        and "Undo restores Kick as it was." in lines
    )
    assert any(line.startswith("Its level goes ") for line in lines)
    pieces = json.loads(run(capsys, "pieces", out, "--json")[1])["pieces"]
    assert [piece["name"] for piece in pieces] == ["Snare 2", "Snare", "Hats", "Crash left"]
    status, said, _ = run(capsys, *bring, "--notes", "35", "--into", "Room=Kick", "-o", out)
    assert status == 0 and "It plays on 35 (B0)." in said and "heard in Kick" not in said.splitlines()[0]
    rendered = json.loads(run(capsys, "hit", out, 35, 100, "--json")[1])["strikes"][0]
    assert (rendered["piece"], rendered["articulation"]) == ("Snare 2", "centre") and rendered["outputs"]
    for asked, sentence in (
        (("--place", "Gong"), "There is no piece “Gong”; there is Kick, Snare, Hats, Crash left."),
        (("--with", "Kick", "--mics", "Nobody"), "There is no microphone “Nobody”"),
        (("--with", "Kick", "--into", "Room"), "say a microphone and a channel"),
    ):
        status, _, err = run(capsys, *bring, *asked, "-o", out)
        assert status == 2 and sentence in err
