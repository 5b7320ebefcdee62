"""Takes brought in, cleaned, and made into clips as the API gives them; recipes over many as one job."""

from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from core.tests.captures import FIGURE, FPS, errors_degrees, noisy, spiky, walking
from demo.takes import take_file
from documents.models import Document
from documents.opening import opened
from elastic_core.capture.part import part_of
from elastic_core.formats import bvh
from elastic_core.formats.bvh_motion import file_from, motion_from
from elastic_core.formats.clip_file import ClipFile
from elastic_core.formats.scene_file import read_own_file
from jobs import running
from jobs.models import Job
from jobs.running import Run, carry_out_job
from library import shelf, takes
from library.takes import TAKE

from .conftest import Demo
from .test_cheap import queries
from .test_joins import unpacked

pytestmark = pytest.mark.django_db
NAME = "quay_pacing_07"


def post(client: Client, path: str, body: dict[str, Any]) -> Any:
    return client.post(path, body, content_type="application/json")


def url(demo: Demo) -> str:
    return f"/api/takes/{demo.document('take', NAME).pk}"


def edit(client: Client, demo: Demo, change: dict[str, Any], base: int = 1, **more: Any) -> Any:
    body = {"edit": change, "base_revision": base, **more}
    return post(client, f"{url(demo)}/edits", body)


def cleaned(client: Client, demo: Demo, **wanted: Any) -> Any:
    answer = post(client, f"{url(demo)}/cleaned", wanted)
    assert answer.status_code == 200, answer.content
    return answer.json()


def told(sheet: Any, step: str) -> Any:
    return next(report for report in sheet["reports"] if report["step"] == step)


def small_take(client: Client, demo: Demo, name: str, frames: int = 360, seed: int = 1) -> str:
    """A walk with noise and spikes, brought in as a take; its id."""
    motion, _ = spiky(noisy(walking(frames), 0.4, seed), 6, seed=seed)
    data = bvh.write(file_from(FIGURE, motion, FPS, 0.01)).encode()
    files = f"/api/productions/{demo.production}/files"
    sent = client.post(files, {"upload": SimpleUploadedFile(f"{name}.bvh", data)}).json()
    made = post(
        client,
        f"/api/productions/{demo.production}/takes",
        {"file": sent["file"], "name": name},
    )
    assert made.status_code == 201, made.content
    return str(made.json()["id"])


def test_a_long_fast_spiky_file_is_proposed_as_a_take_and_kept_as_it_came(
    demo: Demo, owner: Client
) -> None:
    data = take_file(NAME)
    files = f"/api/productions/{demo.production}/files"
    report = owner.post(files, {"upload": SimpleUploadedFile("t.bvh", data)}).json()
    length, rate, spikes = report["why_a_take"]
    assert length == "it is 16 s long"
    assert rate == "it has 120 frames a second"
    assert spikes.endswith("spikes are in it")
    wish = {"file": report["file"], "name": "Again", "onto": str(demo.document("figure", "Odo").pk)}
    card = post(owner, f"/api/productions/{demo.production}/takes", wish).json()
    assert (card["length_frames"], card["rate"], card["joints"]) == (1920, "120", 26)
    row = Document.objects.get(pk=card["id"])
    now = opened(row)
    read = bvh.read(data)
    kept = now.made_of.samples.whole()
    assert np.abs(kept.rotations - motion_from(read, 0.01).rotations).max() < 1e-6
    # The skeleton is known by now: no second suit.
    assert now.document.figure == str(demo.document("take", NAME).figure)


def test_a_short_walk_is_proposed_as_a_clip(demo: Demo, owner: Client) -> None:
    data = bvh.write(file_from(FIGURE, walking(48, "amble", 24, 12), FPS / 5, 1.0)).encode()
    files = f"/api/productions/{demo.production}/files"
    report = owner.post(files, {"upload": SimpleUploadedFile("walk.bvh", data)}).json()
    assert report["why_a_take"] == []


def test_the_room_tells_the_recipe_and_what_it_did(demo: Demo, viewer: Client) -> None:
    view = viewer.get(url(demo)).json()
    sheet = view["take"]
    assert [step["step"] for step in sheet["recipe"]["steps"]] == [
        "conform", "trim", "ground", "mend", "smooth", "contacts", "hold_feet", "thin",
    ]  # fmt: skip
    assert (sheet["rate"], sheet["clip_rate"], sheet["is_light"]) == ("120", "24", True)
    assert sheet["warnings"] == []
    done = cleaned(viewer, demo)
    assert (done["frames"], done["rate"]) == (384, "24")
    assert done["at"][:3] == [0, 5, 10]
    assert done["figure"] == str(demo.document("figure", "Odo").pk)
    assert told(done, "mend")["before"] == len(done["spikes"]) == 20
    assert told(done, "mend")["after"] == 0
    assert told(done, "ground")["before"] == pytest.approx(1.83, abs=0.2)
    assert told(done, "thin")["after"] == done["keys"]
    assert done["slide_cm"] < 0.5 < done["captured_slide_cm"]
    assert {plant["side"] for plant in done["plants"]} == {"left", "right"}
    degrees = [loss["degrees"] for loss in done["losses"]]
    assert degrees == sorted(degrees, reverse=True)


def test_frames_hold_both_as_captured_and_as_cleaned(demo: Demo, owner: Client) -> None:
    answer = post(owner, f"{url(demo)}/poses", {"start": 100, "end": 112})
    arrays, metadata = unpacked(answer.content)
    assert metadata["start"] == "100"
    assert arrays["captured/positions"].shape == arrays["cleaned/positions"].shape
    assert arrays["cleaned/positions"].shape[0] == 12
    apart = arrays["captured/positions"] - arrays["cleaned/positions"]
    assert 0.001 < np.abs(apart).max() < 1.0


def test_a_number_that_is_drawn_is_shown_without_being_saved_and_then_is_one_step(
    demo: Demo, owner: Client
) -> None:
    change = {"kind": "set_step", "step": {"step": "smooth", "hz": 2.0, "limbs_hz": 2.0}}
    before = cleaned(owner, demo, quick=True)
    drawn = cleaned(owner, demo, quick=True, edit=change)
    for sheet in (before, drawn):
        assert sheet["keys"] is None
    most = [told(sheet, "smooth")["said"]["greatest_change_degrees"] for sheet in (before, drawn)]
    assert most[1] > 1.5 * most[0]
    assert owner.get(url(demo)).json()["revision"] == 1
    saved = edit(owner, demo, change).json()
    assert saved["label"] == "Set Smooth"
    back = post(owner, f"{url(demo)}/undo", {"base_revision": 2}).json()
    assert back["take"]["recipe"]["steps"][4]["hz"] == 6.0


def test_a_preview_costs_few_queries(demo: Demo, owner: Client) -> None:
    change = {"kind": "set_step", "step": {"step": "smooth", "hz": 3.0}}
    window = {"from_frame": 600, "to_frame": 900, "quick": True, "edit": change}
    assert queries(lambda: edit(owner, demo, change, preview=True)) <= 4
    assert queries(lambda: post(owner, f"{url(demo)}/cleaned", window)) <= 4
    frames = {**window, "start": 0, "end": 24}
    assert queries(lambda: post(owner, f"{url(demo)}/poses", frames)) <= 4


def test_what_differs_in_nothing_that_is_cleaned_is_not_cleaned_again(
    demo: Demo, owner: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    cleaned(owner, demo)
    runs: list[int] = []
    monkeypatch.setattr(takes, "clean", lambda *a, **k: runs.append(1))
    assert edit(owner, demo, {"kind": "circle_take", "circled": True}).status_code == 200
    cleaned(owner, demo)
    assert runs == []


def test_source_90_plays_at_36_and_cannot_be_applied_twice(demo: Demo, owner: Client) -> None:
    pinned = edit(owner, demo, {"kind": "pin_source", "source": 90, "played": 36})
    assert pinned.json()["label"] == "Source 90 plays at 36"
    done = cleaned(owner, demo)
    assert done["at"][36] == 90
    assert done["strands"]["pins"][1]["source"] == 90
    kept = post(owner, f"{url(demo)}/clips", {"name": "Baked"}).json()[0]
    assert kept["length_frames"] == done["frames"]
    # What comes out is a clip of its own rate: it has no elastic, and no recipe to be run again.
    file = b"".join(owner.get(f"/api/clips/{kept['id']}/file").streaming_content)  # type: ignore[attr-defined]
    held = read_own_file(ClipFile, file, "clip")
    assert "elastic" not in held.clip.model_dump()
    view = owner.get(url(demo)).json()["take"]
    assert view["by_hand"]["elastic"] is not None
    again = cleaned(owner, demo)
    assert again["at"] == done["at"]


def test_keys_against_error_tells_what_thin_would_give(demo: Demo, owner: Client) -> None:
    thin = told(cleaned(owner, demo), "thin")
    wanted = {"quick": True, "degrees": 2, "cm": 1}
    at_two = post(owner, f"{url(demo)}/keys-against-error", wanted).json()
    assert at_two["keys"] == thin["after"]
    assert at_two["degrees"] == pytest.approx(thin["said"]["greatest_error_degrees"], abs=1e-6)


def test_a_level_is_the_pace_of_all_until_there_are_pins(demo: Demo, owner: Client) -> None:
    whole = edit(owner, demo, {"kind": "set_source_level", "place": 0, "pace": 0.5})
    assert whole.json()["label"] == "At 50 %"
    assert whole.json()["take"]["take"]["by_hand"]["elastic"] is None
    assert cleaned(owner, demo, quick=True)["frames"] == pytest.approx(2 * 384, abs=2)
    undone = post(owner, f"{url(demo)}/undo", {"base_revision": 2})
    assert undone.status_code == 200

    def then(change: dict[str, Any]) -> Any:
        head = owner.get(f"{url(demo)}/head").json()["revision"]
        answer = edit(owner, demo, change, head)
        assert answer.status_code == 200, answer.content
        return answer.json()

    then({"kind": "pin_source", "source": 90, "played": 18})
    paced = then({"kind": "set_source_level", "place": 0, "pace": 0.5})
    assert paced["label"] == "At 50 %"
    # Source 90 is played at half the pace: 36 frames for what took 18.
    assert cleaned(owner, demo, quick=True)["at"][36] == pytest.approx(90, abs=1e-6)
    then({"kind": "span_after_pin", "place": 0, "span": "ramped"})
    longer = then({"kind": "set_source_ramp", "place": 1, "frames": 48})
    pins = longer["take"]["take"]["by_hand"]["elastic"]["pins"]
    assert pins[1]["played"] - pins[0]["played"] == pytest.approx(48, abs=0.51)


@pytest.mark.parametrize(
    ("change", "said"),
    [
        ({"kind": "set_source_level", "place": 0, "pace": -1}, "A take plays forwards"),
        ({"kind": "set_source_ramp", "place": 0, "frames": 5}, "There is no ramp here"),
        ({"kind": "set_step", "step": {"step": "trim", "start": 900, "end": 900}}, "not inside"),
        ({"kind": "move_step", "step": "thin", "places": -1}, "thin comes last"),
        ({"kind": "pin_source", "source": 5000, "played": 3}, "does not play here"),
        ({"kind": "forget_feet"}, "No contact was set by hand"),
        ({"kind": "drop_source_pin", "place": 0}, "This take has no pins"),
        (
            {
                "kind": "paint_foot",
                "mark": {"side": "left", "start": 5, "end": 9000, "planted": True},
            },
            "frames 0 to 1919",
        ),
    ],
)
def test_what_cannot_be_done_says_why_and_changes_nothing(
    demo: Demo, owner: Client, change: dict[str, Any], said: str
) -> None:
    answer = edit(owner, demo, change)
    assert answer.status_code == 422
    assert said in answer.json()["message"]
    assert owner.get(url(demo)).json()["revision"] == 1


def test_a_window_is_cut_to_the_take_and_no_longer_than_is_cleaned_at_once(
    demo: Demo, owner: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    done = cleaned(owner, demo, from_frame=600, to_frame=840)
    assert (done["frames"], done["window"]) == (48, [600, 840])
    assert done["at"][0] == 600
    monkeypatch.setattr("elastic_core.capture.view.LIGHT_SAMPLES", 26 * 500)
    view = owner.get(url(demo)).json()["take"]
    assert (view["is_light"], view["first_window"]) == (False, [0, 500])
    too_long = post(owner, f"{url(demo)}/cleaned", {"from_frame": 0, "to_frame": 900})
    assert too_long.status_code == 422
    assert "500 frames of this take are cleaned at a time" in too_long.json()["message"]


def test_a_loop_goes_to_the_bench_closed_keyed_and_with_its_feet_held(
    demo: Demo, owner: Client
) -> None:
    found = post(owner, f"{url(demo)}/cycles", {}).json()
    best = found["cycles"][0]
    assert 24 <= best["length_frames"] <= 26
    assert found["cells_a_side"] == 192
    made = post(
        owner,
        f"{url(demo)}/to-bench",
        {"name": "Pacing", "start": best["start"], "end": best["end"]},
    )
    card = made.json()
    assert (made.status_code, card["is_cycle"], card["seam"]["grade"]) == (201, True, "closed")
    assert card["figure_name"] == "Odo"
    clip = shelf.made_of(Document.objects.get(pk=card["id"])).clip
    assert clip.is_keyed
    assert clip.holds_feet
    assert np.hypot(*clip.period[:2]) > 0.5


def test_every_beat_becomes_a_clip_named_after_it_in_one_step(demo: Demo, owner: Client) -> None:
    assert post(owner, f"{url(demo)}/clips", {"by_beats": True}).status_code == 422
    for base, (name, start, end) in enumerate((("Ask", 300, 540), ("Turn", 840, 1080)), start=1):
        beat = {"kind": "add_beat", "beat": name, "name": name, "start": start, "end": end}
        assert edit(owner, demo, beat, base).status_code == 200
    made = post(owner, f"{url(demo)}/clips", {"by_beats": True})
    cards = made.json()
    assert [(card["name"], card["length_frames"]) for card in cards] == [("Ask", 48), ("Turn", 48)]
    clip = shelf.made_of(Document.objects.get(pk=cards[0]["id"])).playable
    start = clip.samples.whole().travel[0]
    assert start == pytest.approx([0, 0, 0], abs=0.02)
    cuts = owner.get(f"{url(demo)}/cuts").json()["cuts"]
    assert {cut["kind"] for cut in cuts} == {"still", "turn"}


def test_the_next_take_of_a_skeleton_goes_onto_the_figure_as_the_last_one_did(
    demo: Demo, owner: Client
) -> None:
    odo = str(demo.document("figure", "Odo").pk)
    before = owner.get(url(demo)).json()["take"]["onto"]
    corrected = {
        **before,
        "corrections": {"head": [0.0, 12.0, 0.0]},
        "hands": True,
        "rest_frame": 20,
    }
    assert edit(owner, demo, {"kind": "go_onto", "onto": corrected}).status_code == 200
    proposed = post(owner, f"{url(demo)}/onto", {"figure": odo}).json()
    assert proposed["corrections"] == {"head": [0.0, 12.0, 0.0]}
    assert proposed["hands"] is True
    # It stands with its arms out for the first 1.6 seconds.
    assert proposed["rest_frame"] < 200


# Recipes over many takes


def work() -> None:
    for job in Job.objects.filter(state=Job.State.WAITING).order_by("created"):
        carry_out_job(job.pk)


def asked(client: Client, demo: Demo, ids: list[str], token: str = "one", **more: Any) -> Any:
    body = {"takes": ids, "token": token, **more}
    return post(client, f"/api/productions/{demo.production}/recipe-runs", body)


def test_a_kept_recipe_runs_over_many_takes_as_one_job(demo: Demo, owner: Client) -> None:
    recipe = {
        "name": "Only smooth",
        "steps": [{"step": "conform", "rate": "24"}, {"step": "mend"}, {"step": "smooth", "hz": 5}],
    }
    kept = post(
        owner,
        f"/api/productions/{demo.production}/recipes",
        {"name": "Quay recipe", "recipe": recipe},
    ).json()
    assert (
        owner.get(f"/api/productions/{demo.production}/recipes").json()[0]["name"] == "Quay recipe"
    )
    ids = [small_take(owner, demo, f"Pace {k}", seed=k) for k in range(1, 4)]
    job = asked(owner, demo, ids, recipe=kept["id"])
    assert (job.status_code, job.json()["title"]) == (202, "Quay recipe over 3 takes")
    # Asked twice in one breath it is one job.
    assert asked(owner, demo, ids, recipe=kept["id"]).json()["id"] == job.json()["id"]
    before = Document.objects.filter(kind="clip").count()
    work()
    done = Job.objects.get(pk=job.json()["id"])
    assert done.state == Job.State.DONE
    assert len(done.outcome["clips"]) == 3
    assert done.outcome["says"][0].startswith("Pace 1: 72 frames")
    assert Document.objects.filter(kind="clip").count() == before + 3
    # Other takes' recipes stay their own.
    own = owner.get(f"/api/takes/{ids[0]}").json()["take"]["recipe"]
    assert own["name"] == "House recipe"


def stopping(monkeypatch: pytest.MonkeyPatch, at: int, do: Callable[[Run], None]) -> list[int]:
    """Do something when the worker has asked so often whether it is still wanted."""
    monkeypatch.setattr(running, "TELL_EVERY_S", 0.0)
    progress = Run.progress
    count = [0]

    def told_(run: Run, *figures: Any) -> None:
        count[0] += 1
        if count[0] == at:
            do(run)
        progress(run, *figures)

    monkeypatch.setattr(Run, "progress", told_)
    return count


def test_a_cancelled_run_stops_in_the_midst_of_a_step_and_leaves_nothing(
    demo: Demo, owner: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    ids = [small_take(owner, demo, f"Pace {k}", seed=k) for k in range(1, 4)]
    job = asked(owner, demo, ids).json()
    before = Document.objects.count()
    count = stopping(monkeypatch, 6, lambda run: post(owner, f"/api/jobs/{run.job.pk}/cancel", {}))
    work()
    assert Job.objects.get(pk=job["id"]).state == Job.State.CANCELLED
    assert Document.objects.count() == before
    # It asked again soon: not after a whole take.
    assert count[0] <= 8


def test_a_worker_that_dies_loses_nothing_and_does_nothing_twice(
    demo: Demo, owner: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    ids = [small_take(owner, demo, f"Pace {k}", seed=k) for k in range(1, 3)]
    job = asked(owner, demo, ids).json()
    before = Document.objects.filter(kind="clip").count()

    def dies(run: Run) -> None:
        raise KeyboardInterrupt

    stopping(monkeypatch, 9, dies)
    with pytest.raises(KeyboardInterrupt):
        work()
    assert Job.objects.get(pk=job["id"]).state == Job.State.RUNNING
    assert Document.objects.filter(kind="clip").count() == before
    carry_out_job(Job.objects.get(pk=job["id"]).pk)
    done = Job.objects.get(pk=job["id"])
    assert (done.state, done.tries) == (Job.State.DONE, 2)
    assert Document.objects.filter(kind="clip").count() == before + 2


def test_takes_that_are_gone_are_left_out_and_none_at_all_is_refused(
    demo: Demo, owner: Client
) -> None:
    ids = [small_take(owner, demo, "Pace 1"), "00000000-0000-0000-0000-000000000000"]
    asked(owner, demo, ids)
    asked(owner, demo, ids[1:], token="two")
    work()
    first, second = Job.objects.filter(kind="run recipe").order_by("created")
    assert len(first.outcome["clips"]) == 1
    assert (second.state, second.says) == ("refused", "None of these takes is here any more.")


def test_a_long_take_is_kept_by_a_job(
    demo: Demo, owner: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("api.takes.LONG_TAKE_SAMPLES", 1_000)
    answer = post(owner, f"{url(demo)}/clips", {"name": "All", "token": "t"})
    assert answer.status_code == 202
    work()
    job = Job.objects.get(pk=answer.json()["id"])
    assert job.state == Job.State.DONE
    (clip,) = job.outcome["clips"]
    assert shelf.made_of(Document.objects.get(pk=clip)).clip.length_frames == 384
    refused = post(owner, f"{url(demo)}/clips", {"by_beats": True})
    assert "trim it first" in refused.json()["message"]


def test_a_take_keeps_its_figures_from_being_thrown_away(demo: Demo, owner: Client) -> None:
    row = demo.document("take", NAME)
    assert set(TAKE.uses(opened(row).document)) == {
        str(row.figure),
        str(demo.document("figure", "Odo").pk),
    }
    gone = owner.delete(f"/api/documents/{row.figure}")
    assert gone.status_code == 422


def test_the_clip_of_a_beat_is_thinned_to_the_same_error(demo: Demo, owner: Client) -> None:
    now = opened(demo.document("take", NAME))
    done = takes.cleaned(now, None)
    piece = part_of(done, 100, 148, "Piece")
    assert piece.clip.is_keyed
    whole = done.motion.at(np.arange(100, 148))
    assert errors_degrees(piece.samples.whole(), whole)[:, 1:].max() < 4.0
