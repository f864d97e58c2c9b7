"""The shelf: one set of calls and one rule for names, whatever is kept."""

from importlib import import_module

import pytest
from django.apps import apps

from drumcore.kit.values import STRAIGHT, Curve, MapEntry, Node, SavedMap
from drumcore.recordings.guidance import Ruling, SavedReading
from drumcore.routing.hosts import Host, OutputRun
from drumcore.routing.plans import PlanRule, RoutingPlan
from drumcore.spaces.echo import Echo
from drumcore.spaces.hall import Hall
from drumcore.spaces.kept import KeptSpace
from drumcore.treatments.drive import Drive
from drumcore.treatments.kept import KeptTreatments
from drumcore.value import Value
from studio.shelves.kinds import KINDS, SavedKind
from studio.shelves.models import Kept

ENTRY = MapEntry(note=60, family="kick", articulation="centre")
TWO: dict[str, tuple[Value, Value]] = {
    "maps": (SavedMap(name="Mine", entries=(ENTRY,)), SavedMap(name="Mine")),
    "curves": (Curve(nodes=(Node(x=0, y=9, bend=0.25), Node(x=127, y=100))), STRAIGHT),
    "treatments": (KeptTreatments(treatments=(Drive(drive_db=3.5),), says="A little."), KeptTreatments()),
    "spaces": (KeptSpace(space=Hall(length_s=0.7), says="A barn."), KeptSpace(space=Echo(beats=0.75))),
    "plans": (
        RoutingPlan(rules=(PlanRule(track="Low", families=("kick",)),)),
        RoutingPlan(rules=(PlanRule(track="High", mics=("overhead",)),), pairs=True),
    ),
    "hosts": (
        Host(name="Mine", runs=(OutputRun(width="stereo", count=2, called="Ch", first=0),)),
        Host(name="Mine", runs=(OutputRun(width="mono", count=8),)),
    ),
    "readings": (SavedReading(groups=("a",), rulings=(Ruling(group="a", column=1, meaning="mic"),)), SavedReading()),
}


@pytest.mark.parametrize("kind", [kind for kind in KINDS if not kind.large], ids=lambda kind: kind.plural)
def test_one_of_a_kind_is_kept_renamed_copied_replaced_and_removed(studio, kind: SavedKind):
    first, other = (value.model_dump(mode="json") for value in TWO[kind.plural])
    shelf = f"/shelves/{kind.plural}"
    shipped = studio.get(shelf)
    assert not any(card["ours"] for card in shipped)
    kept = studio.post(shelf, {"name": "  Mine  ", "value": first})
    assert (kept["name"], kept["ours"], kept["value"]) == ("Mine", True, first)
    assert studio.get(shelf) == [*shipped, kept]
    again = studio.post(shelf, {"name": "Mine", "value": other}, 422)["detail"]
    assert again == f"There is a {kind.noun} “Mine” already; choose another name, or replace that one."
    assert "needs a name" in studio.post(shelf, {"name": "   ", "value": other}, 422)["detail"]
    for card in shipped:
        assert "ships with the product" in studio.post(shelf, {"name": card["name"], "value": other}, 422)["detail"]
        assert studio.client.delete(f"/api{shelf}/{card['id']}").status_code == 422

    copy = studio.post(f"{shelf}/{kept['id']}/duplicate")
    assert copy["name"] == "Mine 2"
    assert "already" in studio.post(f"{shelf}/{copy['id']}/rename", {"name": "Mine"}, 422)["detail"]
    renamed = studio.post(f"{shelf}/{copy['id']}/rename", {"name": "Another"})
    assert renamed["name"] == "Another" and renamed["value"].get("name", "Another") == "Another"
    answer = studio.client.put(f"/api{shelf}/{copy['id']}", other, content_type="application/json")
    assert answer.json()["value"] == other | ({"name": "Another"} if "name" in other else {})
    assert [card["name"] for card in studio.get(shelf) if card["ours"]] == ["Another", "Mine"]
    assert studio.client.delete(f"/api{shelf}/{copy['id']}").status_code == 204
    assert "deleted" in studio.post(f"{shelf}/{copy['id']}/rename", {"name": "Gone"}, 422)["detail"]
    assert studio.get(shelf)[-1] == kept


def test_kinds_do_not_meet(studio):
    curve = studio.post("/shelves/curves", {"name": "Mine", "value": TWO["curves"][0].model_dump(mode="json")})
    assert studio.post("/shelves/maps", {"name": "Mine", "value": TWO["maps"][0].model_dump(mode="json")})["ours"]
    assert studio.client.delete(f"/api/shelves/readings/{curve['id']}").status_code == 422
    assert "made for each kit" in studio.post("/shelves/maps/standard/duplicate", {}, 422)["detail"]
    assert "maps" not in {card["name"] for card in studio.get("/shelves/curves")}


@pytest.mark.django_db
def test_what_an_older_program_kept_is_on_the_shelf(monkeypatch: pytest.MonkeyPatch):
    class Old:
        def __init__(self, *rows: object) -> None:
            self.objects = self
            self.rows = rows

        def order_by(self, *_: str) -> tuple[object, ...]:
            return self.rows

    class Row:
        def __init__(self, **values: object) -> None:
            self.__dict__.update(values)

    old = {
        ("kits", "SavedMapRecord"): Old(Row(name="Pads", data={"name": "Pads", "entries": []})),
        ("kits", "SavedCurve"): Old(Row(name="Soft", data=STRAIGHT.model_dump(mode="json"))),
        ("library", "SavedReading"): Old(Row(name="Ours", rulings=[], groups=["a"])),
    }

    class Apps:
        def get_model(self, app: str, name: str) -> object:
            return old.get((app, name)) or apps.get_model(app, name)

    import_module("studio.shelves.migrations.0001_one_shelf").move(Apps(), None)
    kinds = {kind.plural: kind for kind in KINDS}
    found = [(k.kind, k.name, kinds[k.kind].value.model_validate(k.data)) for k in Kept.objects.order_by("id")]
    assert [(kind, name) for kind, name, _ in found] == [("maps", "Pads"), ("curves", "Soft"), ("readings", "Ours")]
    assert found[2][2] == SavedReading(groups=("a",))


def test_one_that_is_damaged_hides_no_other_and_says_so(studio):
    for name in ("Soft", "Hard"):
        studio.post("/shelves/curves", {"name": name, "value": {"nodes": [{"x": 0, "y": 0}, {"x": 127, "y": 127}]}})
    Kept.objects.filter(name="Soft").update(data={"nodes": "gone"})
    assert [card["name"] for card in studio.get("/shelves/curves") if card["ours"]] == ["Hard"]
    troubles = {entry["name"]: entry["trouble"] for entry in studio.get("/library/curves")["entries"]}
    assert troubles["Hard"] == "" and "the curve Soft cannot be read" in troubles["Soft"]
