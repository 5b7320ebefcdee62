"""A figure’s own facts: its legs, which can be set by hand."""

from django.test import Client

from .conftest import Demo


def test_legs_are_set_by_hand_and_read_from_names_again(demo: Demo, owner: Client) -> None:
    odo = demo.document("figure", "Odo")
    url = f"/api/figures/{odo.pk}"
    assert owner.get(f"{url}/body").json()["feet"] == {"left": "l_ankle", "right": "r_ankle"}
    scene = f"/api/scenes/{demo.scene.pk}"
    content = owner.get(scene).json()["content"]
    wanted = {"feet": {"left": "l_wrist"}}
    told = owner.put(f"{url}/feet", wanted, content_type="application/json").json()
    assert (told["feet"], told["legs_by_hand"]) == ({"left": "l_wrist"}, True)
    # Every scene that the figure is in is another one now.
    assert owner.get(scene).json()["content"] != content
    again = owner.put(f"{url}/feet", {"feet": {}}, content_type="application/json").json()
    assert (len(again["feet"]), again["legs_by_hand"]) == (2, False)
    refused = owner.put(f"{url}/feet", {"feet": {"left": "hips"}}, content_type="application/json")
    assert (refused.status_code, "too near the root" in refused.json()["message"]) == (422, True)
