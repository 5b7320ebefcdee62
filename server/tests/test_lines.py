"""Lines and mouth charts: made, read by a job, exposed, changed by hand, laid in a scene."""

from io import BytesIO
from typing import Any
from uuid import uuid4

import pytest
import soundfile
from django.test import Client

from demo.spoken import SPOKEN, reading_of, text_of
from documents.models import Document
from documents.opening import document_of
from elastic_core.voice.line import Line
from jobs.models import Job
from jobs.running import carry_out_job
from library.models import KeptReading

from .conftest import Demo, edit
from .test_cheap import MOST_QUERIES, queries

pytestmark = pytest.mark.django_db
NAME = SPOKEN[0]


def post(client: Client, url: str, data: dict[str, Any]) -> Any:
    return client.post(url, data, content_type="application/json")


def line_url(demo: Demo, name: str = NAME) -> str:
    return f"/api/lines/{demo.document('line', name).pk}"


def view(client: Client, demo: Demo) -> Any:
    return client.get(line_url(demo)).json()


def change(client: Client, demo: Demo, wanted: dict[str, Any], **more: Any) -> Any:
    base = demo.document("line", NAME).head
    return post(client, f"{line_url(demo)}/edits", {"edit": wanted, "base_revision": base, **more})


def read(client: Client, url: str, **more: Any) -> Job:
    answer = post(client, f"{url}/read", {"token": uuid4().hex, **more})
    assert answer.status_code == 202, answer.content
    job = Job.objects.get(pk=answer.json()["id"])
    carry_out_job(job.pk)
    job.refresh_from_db()
    return job


def new_line(client: Client, demo: Demo, text: str) -> Any:
    sound = demo.document("sound", NAME).pk
    wanted = {"sound": str(sound), "name": "Another", "text": text}
    answer = post(client, f"/api/productions/{demo.production}/lines", wanted)
    assert answer.status_code == 201, answer.content
    return answer.json()


def test_the_demo_has_lines_that_are_read_and_exposed(demo: Demo, owner: Client) -> None:
    shown = view(owner, demo)["line"]
    assert shown["is_read"]
    assert shown["text"] == text_of(NAME)
    assert shown["frames"] == 185
    assert sum(one["length"] for one in shown["run"]) == 185
    assert all(one["frame"] % 2 == 0 for one in shown["run"])
    told = shown["told"]
    assert told["closures_wanted"] == told["closures_shown"] == 9
    assert told["by_hand"] == 0
    cards = owner.get(f"/api/productions/{demo.production}").json()
    assert [card["name"] for card in cards["lines"]] == list(SPOKEN)
    assert cards["charts"][0]["mouths"] == 10


def test_a_line_is_read_by_a_job_and_nothing_is_read_twice(demo: Demo, owner: Client) -> None:
    made = new_line(owner, demo, text_of(NAME))
    assert not made["is_read"]
    job = read(owner, f"/api/lines/{made['id']}")
    assert job.state == Job.State.DONE
    line: Line = document_of(Document.objects.get(pk=made["id"]))
    assert line.is_read
    assert line.reading is not None
    known = reading_of(NAME)
    starts = [phone.start for phone in line.reading.phones]
    assert starts == pytest.approx([phone.start for phone in known.phones], abs=0.02)
    assert KeptReading.objects.count() == 1
    # The same sound and text in another line: it comes from what is kept.
    KeptReading.objects.update(
        reading=known.model_copy(update={"words": ()}).model_dump(mode="json")
    )
    other = new_line(owner, demo, text_of(NAME))
    read(owner, f"/api/lines/{other['id']}")
    again: Line = document_of(Document.objects.get(pk=other["id"]))
    assert again.reading is not None
    assert again.reading.words == ()


def test_a_text_that_does_not_fit_is_told_by_its_words(demo: Demo, owner: Client) -> None:
    wrong = text_of(NAME).replace("Mind the rope, my boy", "Nobody ever saw a whale here")
    made = new_line(owner, demo, wrong)
    job = read(owner, f"/api/lines/{made['id']}")
    assert job.state == Job.State.DONE
    told = " ".join(job.outcome["says"])
    assert "“whale” is not heard." in told
    assert "“lamps”" not in told
    nothing = new_line(owner, demo, "Our grandmother sold seventeen yellow umbrellas yesterday")
    refused = read(owner, f"/api/lines/{nothing['id']}")
    assert refused.state == Job.State.REFUSED
    assert refused.says == "Nothing of this text is heard in the sound."


def test_without_a_text_a_line_is_read_roughly(demo: Demo, owner: Client) -> None:
    made = new_line(owner, demo, "")
    url = f"/api/lines/{made['id']}"
    assert read(owner, url).says == "The line has no text. Paste it, or read the sound alone."
    assert read(owner, url, rough=True).state == Job.State.DONE
    shown = owner.get(url).json()["line"]
    assert {one["mouth"] for one in shown["run"]} >= {"rest", "ai", "e"}
    assert shown["reading"]["rough"]


def test_a_mouth_by_hand_survives_a_new_reading(demo: Demo, owner: Client) -> None:
    mouths = [{"frame": 40, "length": 4, "mouth": "smile"}]
    answer = change(owner, demo, {"kind": "expose_mouths", "mouths": mouths})
    assert answer.status_code == 200, answer.content
    assert answer.json()["label"] == "Expose smile"
    read(owner, line_url(demo))
    shown = view(owner, demo)["line"]
    by_hand = [one for one in shown["run"] if one["reason"] == "by hand"]
    assert [(one["frame"], one["length"], one["mouth"]) for one in by_hand] == [(40, 4, "smile")]
    undone = post(owner, f"{line_url(demo)}/undo", {"base_revision": 3})
    assert undone.status_code == 200
    assert undone.json()["redo"] == "Read the sound"


def test_a_preview_of_the_rules_changes_nothing(demo: Demo, owner: Client) -> None:
    rules = {"on": 2, "shortest": 6, "lead": 2}
    wanted = {"kind": "set_mouth_rules", "rules": rules}
    answer = change(owner, demo, wanted, preview=True).json()
    fewer = answer["line"]["line"]["told"]["mouths"]
    now = view(owner, demo)
    assert now["revision"] == 1
    assert fewer < now["line"]["told"]["mouths"]


def test_a_line_is_laid_on_odo_and_follows_its_chart(demo: Demo, owner: Client) -> None:
    line, sound = demo.document("line", NAME), demo.document("sound", NAME)
    chart = demo.document("chart", "Odo, front")
    desk = owner.get(demo.url).json()["desk"]
    odo = next(figure["id"] for figure in desk["figures"] if figure["name"] == "Odo")
    laid = {
        "kind": "lay_line", "line": str(line.pk), "sound": str(sound.pk), "laid": "said",
        "sound_lane": "voices", "start": 12, "figure": odo, "chart": str(chart.pk), "stint": "says",
    }  # fmt: skip
    answer = edit(owner, demo, laid, demo.scene.head, token="lay")
    assert answer.status_code == 200, answer.content
    assert answer.json()["label"] == f"Lay {NAME}"
    before = answer.json()["scene"]["content"]
    number = {"kind": "set_mouth", "mouth": {"key": "rest", "drawing": 20, "name": "Rest"}}
    url = f"/api/charts/{chart.pk}/edits"
    assert post(owner, url, {"edit": number, "base_revision": 1}).status_code == 200
    after = owner.get(demo.url).json()
    assert after["content"] != before


def test_charts_are_made_and_edited(demo: Demo, owner: Client) -> None:
    wanted = {"name": "The gull's beak"}
    made = post(owner, f"/api/productions/{demo.production}/charts", wanted)
    assert made.status_code == 201
    url = f"/api/charts/{made.json()['id']}"
    gone = post(url=f"{url}/edits", client=owner, data={
        "edit": {"kind": "drop_mouth", "key": "fv"}, "base_revision": 1,
    })  # fmt: skip
    assert gone.json()["notes"] == ["M B P stands in for F, V."]
    assert owner.get(url).json()["stood_in"] == {"F": "mbp", "V": "mbp"}
    like = {"name": "Another", "like": made.json()["id"]}
    copy = post(owner, f"/api/productions/{demo.production}/charts", like)
    assert copy.json()["mouths"] == 9
    nothing = {"name": "Another", "like": str(uuid4())}
    refused = post(owner, f"/api/productions/{demo.production}/charts", nothing)
    assert refused.json()["message"] == "That mouth chart is not in this production."


def test_a_chart_begins_on_a_figures_face(demo: Demo, owner: Client) -> None:
    url = f"/api/productions/{demo.production}/charts"
    odo = str(demo.document("figure", "Odo").pk)
    made = post(owner, url, {"name": "From ours", "figure": odo, "view": "front"}).json()
    chart = owner.get(f"/api/charts/{made['id']}").json()["chart"]
    assert (chart["figure"], chart["view"], chart["place"]["joint"]) == (odo, "front", "head")
    # About where his own stands, and about as wide.
    own = document_of(demo.document("chart", "Odo, front")).model_dump(mode="json")
    assert chart["place"]["width_metres"] == pytest.approx(own["place"]["width_metres"], rel=0.1)
    assert chart["place"]["offset"][2] == pytest.approx(own["place"]["offset"][2], rel=0.1)
    # Like another one of the same figure it stands where that stands.
    like = {"name": "Like his", "like": str(demo.document("chart", "Odo, front").pk), "figure": odo}
    copy = owner.get(f"/api/charts/{post(owner, url, like).json()['id']}").json()["chart"]
    assert copy["place"] == own["place"]
    eyes = post(owner, url, {"name": "His lids", "figure": odo, "part": "eyes"}).json()
    shown = owner.get(f"/api/charts/{eyes['id']}").json()["chart"]
    assert [mouth["key"] for mouth in shown["mouths"]] == ["open", "half", "closed"]
    assert shown["place"]["offset"][1] > 0.08
    refused = post(owner, url, {"name": "Nobody's", "figure": str(uuid4())})
    assert refused.json()["message"] == "That figure is not in this production."


def test_lines_need_a_sound_and_a_chart_of_the_production(demo: Demo, owner: Client) -> None:
    url = f"/api/productions/{demo.production}/lines"
    refused = post(owner, url, {"sound": str(uuid4()), "text": "lamp"})
    assert refused.json()["message"] == "That sound is not in this production."
    sound = str(demo.document("sound", NAME).pk)
    refused = post(owner, url, {"sound": sound, "chart": str(uuid4())})
    assert refused.json()["message"] == "That mouth chart is not in this production."


def test_another_language_is_not_read_as_english(demo: Demo, owner: Client) -> None:
    assert change(owner, demo, {"kind": "set_speaker", "language": "de"}).status_code == 200
    refused = read(owner, line_url(demo))
    assert refused.state == Job.State.REFUSED
    assert "English only" in refused.says


def test_only_what_lies_between_two_pins_is_read_again(demo: Demo, owner: Client) -> None:
    refused = read(owner, line_url(demo), again_at=2.0)
    assert refused.says.startswith("No beginning is set by hand yet.")
    words = view(owner, demo)["line"]["reading"]["words"]
    counts = [len(word["phones"]) for word in words]
    tide, mind = (next(k for k, w in enumerate(words) if w["word"] == t) for t in ("tide", "Mind"))
    for place in (tide, mind):
        at = {"phone": sum(counts[:place]), "seconds": words[place]["start"] + 0.005}
        assert change(owner, demo, {"kind": "move_boundary", **at}).status_code == 200
    # What lies between has slipped: it is found again, and the rest stays to the bit.
    slipped = {"phone": sum(counts[: tide + 1]), "seconds": words[tide + 1]["start"] - 0.06}
    assert change(owner, demo, {"kind": "move_boundary", **slipped}).status_code == 200
    before = view(owner, demo)["line"]["reading"]["words"]
    assert read(owner, line_url(demo), again_at=words[tide]["start"] + 0.1).state == Job.State.DONE
    after = view(owner, demo)["line"]["reading"]["words"]
    assert after[:tide] == before[:tide]
    assert after[tide + 1 :] == before[tide + 1 :]
    assert after[tide]["phones"][0]["by_hand"]
    assert after[tide]["start"] == before[tide]["start"]


def test_a_sheet_goes_out_and_what_was_changed_on_it_comes_back(demo: Demo, owner: Client) -> None:
    url = line_url(demo)
    paper = owner.get(f"{url}/sheet?form=pdf")
    assert paper.content.startswith(b"%PDF-")
    assert paper.headers["Content-Disposition"].endswith("Odo%2C%20line%201.pdf")
    written = owner.get(f"{url}/sheet?form=csv").content.decode()
    rows = written.split("\r\n")
    assert len(rows) == 1 + 185 + 1
    same = post(owner, f"{url}/sheet-changes", {"csv": written})
    assert same.json()["message"] == "Nothing was changed on that sheet."
    place = next(k for k, row in enumerate(rows) if row.startswith("41,"))
    cells = rows[place].split(",")
    cells[rows[0].split(",").index("Mouth")] = "10"
    rows[place] = ",".join(cells)
    found = post(owner, f"{url}/sheet-changes", {"csv": "\r\n".join(rows)})
    assert found.status_code == 200, found.content
    edit = found.json()
    assert edit["kind"] == "bring_sheet_in"
    assert {mouth["mouth"] for mouth in edit["mouths"] if mouth["frame"] == 40} == {"smile"}
    assert change(owner, demo, edit).json()["label"] == "Open the sheet again"
    scene = demo.document("scene", "Sc 06 Three lamps lit")
    rows = owner.get(f"/api/scenes/{scene.pk}/sheet?form=csv").content.decode().split("\r\n")
    assert rows[0] == "Frame,Seconds,Notes,Voice,Odo Mouth,Odo Eyes,Odo Body"
    assert len(rows) == 1 + 216 + 1


def test_a_sound_is_heard_in_pieces_slower_with_its_pitch(demo: Demo, owner: Client) -> None:
    sound = demo.document("sound", NAME)
    url = f"/api/sounds/{sound.pk}/heard"

    def seconds(query: str) -> float:
        with soundfile.SoundFile(BytesIO(owner.get(f"{url}?{query}").content)) as file:
            return float(file.frames / file.samplerate)

    whole = seconds("")
    assert seconds("piece=0") == pytest.approx(whole, abs=1e-3)
    assert seconds("piece=0&pace=0.5") == pytest.approx(2 * whole, abs=1e-3)
    over = owner.get(f"{url}?piece=3")
    assert (over.status_code, over.json()["message"]) == (422, "The sound is over by then.")


def test_a_drawn_boundary_and_a_drawn_rule_cost_four_queries(demo: Demo, owner: Client) -> None:
    boundary = {"kind": "move_boundary", "phone": 3, "seconds": 0.5}
    rules = {"kind": "set_mouth_rules", "rules": {"on": 1, "lead": 2}}
    url = f"{line_url(demo)}/edits"

    def drawn(wanted: dict[str, Any]) -> Any:
        return post(owner, url, {"edit": wanted, "base_revision": 1, "preview": True})

    assert queries(lambda: drawn(boundary)) <= MOST_QUERIES
    assert queries(lambda: drawn(rules)) <= MOST_QUERIES
