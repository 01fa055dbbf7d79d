"""A practice rig starts inside the program, for practice trials only, and is not started twice."""

from pathlib import Path

import pytest

from adhaero.bench.breaking.live_rigs import RigHub
from adhaero.bench.breaking.practice_rig import start_rig
from adhaero.bench.shop.view import view_shop
from adhaero.core.errors import RigError
from tests.shops import ready_shop


def test_a_practice_trial_has_a_rig_at_once_and_a_real_one_never(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    hub = RigHub(shop.file)
    try:
        with pytest.raises(RigError, match="This is a real trial"):
            start_rig(shop.file, hub, shop.trial)
        assert view_shop(shop.file).rigs == []
        with shop.file.changing("practice", shop.trial, undoable=False) as connection:
            connection.execute("UPDATE trial SET practice = 1")
        rig = start_rig(shop.file, hub, shop.trial)
        assert hub.command_practice(rig, "STATUS")["simulated"] is True
        address = view_shop(shop.file).rigs[0].entry.url
        assert start_rig(shop.file, hub, shop.trial) == rig
        assert view_shop(shop.file).rigs[0].entry.url == address
    finally:
        hub.close()
