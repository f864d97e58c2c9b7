"""Storage: backing up, checking and repairing from the page, by somebody who looks at it."""

import shutil
from pathlib import Path

import pytest
from playwright.sync_api import Browser, expect

from tests.browser.conftest import running
from tests.studio.a_studio import kept_studio


def test_a_studio_is_backed_up_checked_and_repaired_from_its_page(
    browser: Browser, tmp_path: Path, tmp_path_factory: pytest.TempPathFactory, small_session: Path
):
    data = shutil.copytree(kept_studio(tmp_path_factory, small_session)[0], tmp_path / "data")
    (data / "demo-made").write_text("999")
    with running(data) as address:
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(f"{address}/")
        page.get_by_role("link", name="Storage").click()
        disk = page.get_by_role("region", name="On this disk")
        expect(disk).to_contain_text("Every file belongs to a kit, a piece or a session.")
        backup, check = (page.get_by_role("region", name=name) for name in ("Backup", "Check"))
        expect(backup).to_contain_text("Never backed up.")
        expect(backup.get_by_role("button", name="Back up now")).to_be_disabled()
        folder = backup.get_by_label("Folder on this machine")
        folder.fill(str(data / "inside"))
        folder.press("Enter")
        expect(backup.get_by_role("alert")).to_contain_text("belongs outside the data folder")
        folder.fill(str(tmp_path / "backup"))
        folder.press("Enter")
        expect(backup).to_contain_text("Last backup: today")
        assert (tmp_path / "backup" / "zesty-backup.json").is_file()

        wav = next((data / "recordings").rglob("*.wav"))
        whole = wav.read_bytes()
        wav.write_bytes(whole[:-1] + bytes([whole[-1] ^ 1]))
        check.get_by_role("button", name="Check now").click()
        expect(check.get_by_role("alert")).to_contain_text("1 thing found that should be repaired")
        expect(check).to_contain_text(".wav is damaged")
        check.get_by_role("button", name="Repair").click()
        expect(check).to_contain_text("everything is whole now")
        assert wav.read_bytes() == whole
        page.close()
