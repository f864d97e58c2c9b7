"""Undo takes back what its own tab did, and leaves what other tabs did since."""

import pytest


@pytest.fixture
def kit(studio, small_session):
    return studio.kit_of(small_session)


class Tab:
    """The studio, as one browser tab asks it."""

    def __init__(self, studio, name: str, kit_id: str) -> None:
        self.studio, self.name, self.kit_id = studio, name, kit_id

    def _ask(self, path: str, body: dict, status: int = 200) -> dict:
        response = self.studio.client.post(
            f"/api/kits/{self.kit_id}/{path}", body, content_type="application/json", headers={"X-Tab": self.name}
        )
        assert response.status_code == status, response.content
        return response.json()

    def version(self) -> int:
        return self.studio.get(f"/kits/{self.kit_id}")["version"]

    def edit(self, edit: dict, gesture: str = "") -> dict:
        return self._ask("edits", {"base_version": self.version(), "edit": edit, "gesture": gesture})

    def undo(self, status: int = 200) -> dict:
        return self._ask("undo", {"base_version": self.version()}, status)

    def redo(self, status: int = 200) -> dict:
        return self._ask("redo", {"base_version": self.version()}, status)

    def level(self, piece: str) -> float:
        pieces = {p["id"]: p for p in self.studio.get(f"/kits/{self.kit_id}")["pieces"]}
        return pieces[piece]["level_db"]


def level(piece: str, db: float) -> dict:
    return {"kind": "set_piece", "piece": piece, "level_db": db}


def test_undo_takes_back_its_own_tab_s_edit_and_keeps_what_followed(studio, kit):
    one, two = (Tab(studio, name, kit["id"]) for name in ("one", "two"))
    one.edit(level("kick", -3.0))
    two.edit(level("snare", -6.0))
    after = one.undo()
    assert (one.level("kick"), one.level("snare")) == (0.0, -6.0)
    assert after["redo"] == "Kick at −3.0 dB" or "Kick" in after["redo"]
    # Redo brings it back, and the other tab's undo is still that of its own edit.
    one.redo()
    assert (one.level("kick"), one.level("snare")) == (-3.0, -6.0)
    two.undo()
    assert (one.level("kick"), one.level("snare")) == (-3.0, 0.0)
    one.undo()
    assert (one.level("kick"), one.level("snare")) == (0.0, 0.0)


def test_several_own_edits_are_taken_back_one_by_one_under_another_tab_s(studio, kit):
    one, two = (Tab(studio, name, kit["id"]) for name in ("one", "two"))
    one.edit(level("kick", -1.0))
    one.edit(level("hats", -2.0))
    two.edit(level("snare", -6.0), gesture="drag")
    two.edit(level("snare", -7.0), gesture="drag")
    one.undo()
    assert (one.level("kick"), one.level("hats"), one.level("snare")) == (-1.0, 0.0, -7.0)
    one.undo()
    assert (one.level("kick"), one.level("hats"), one.level("snare")) == (0.0, 0.0, -7.0)


def test_an_edit_that_another_tab_built_on_is_refused_with_both_names(studio, kit):
    one, two = (Tab(studio, name, kit["id"]) for name in ("one", "two"))
    one.edit(level("kick", -3.0))
    two.edit(level("kick", -9.0))
    said = one.undo(422)["detail"]
    assert "in another tab" in said and "undo that first" in said
    assert one.level("kick") == -9.0
    two.undo()
    assert one.level("kick") == -3.0
    one.undo()
    assert one.level("kick") == 0.0


def test_a_tab_that_has_done_nothing_takes_back_the_latest(studio, kit):
    one, new = (Tab(studio, name, kit["id"]) for name in ("one", "new"))
    one.edit(level("kick", -3.0))
    new.undo()
    assert one.level("kick") == 0.0
