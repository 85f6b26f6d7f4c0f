"""Checks before an order: each finds what was put there for it, and is silent where it is not."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
import pytest

from dreizack.core.document import Camera, Format, Setting, Shot, Span, Title, Vector
from dreizack.core.proof import Place, checked, guides, report
from dreizack.core.scene import BodyStore, frame_titles


def framed(words: str = "EBB", fill: float = 0.7, frames: int = 100) -> Shot:
    """A title that stands well within the picture, long enough to be read."""
    shot = Shot(
        format=Format(width=640, height=360, frames=frames),
        things={"title": Title(words=words, setting=Setting(typeface="archivo-black"))},
        camera=Camera(position=Vector(x=0, y=0.2, z=4), aim=Vector(x=0, y=0.2, z=0)),
    )
    found = frame_titles(shot, BodyStore(), 0, fill)
    assert found is not None
    shot.camera.position, shot.camera.aim = found
    return shot


def kinds(shot: Shot) -> set[str]:
    return {finding.kind for finding in checked(shot)}


def test_a_title_that_is_fine_has_no_findings() -> None:
    assert checked(framed()) == []


def _short(shot: Shot) -> None:
    shot.titles["title"].span = Span(whole=False, start=20, end=30)


def _near(shot: Shot) -> None:
    shot.camera.focal_length *= 0.96 / 0.7


def _beyond(shot: Shot) -> None:
    shot.camera.focal_length *= 1.2 / 0.7


def _tiny(shot: Shot) -> None:
    shot.camera.focal_length, shot.camera.sensor_width = 8, 120
    shot.camera.position.z *= 4


def _no_letter(shot: Shot) -> None:
    shot.titles["title"].words = "EB\U0001fae8"


def _thin(shot: Shot) -> None:
    title = shot.titles["title"]
    title.body.front.reach = title.body.front.rise = 0.2


@pytest.mark.parametrize(
    ("harm", "kind"),
    [
        (_short, "reading time"),
        (_near, "safe area"),
        (_beyond, "unseen"),
        (_tiny, "size"),
        (_no_letter, "letters"),
        (_thin, "edges"),
    ],
)
def test_each_kind_of_harm_is_found(harm: Callable[[Shot], None], kind: str) -> None:
    shot = framed()
    harm(shot)
    found = [finding for finding in checked(shot) if finding.kind == kind]
    assert len(found) == 1 and found[0].thing == "title" and len(found[0].says) > 20
    assert 0 <= found[0].frame < 100


def test_only_what_is_shown_is_judged_and_only_what_is_seen() -> None:
    shot = framed()
    assert {finding.kind for finding in checked(shot, 40, 48)} == {"reading time"}
    shot.titles["title"].visibility.camera = False
    assert checked(shot, 40, 48) == []


@pytest.mark.parametrize("fill", [0.3, 0.6, 0.88])
def test_the_safe_area_is_where_it_is_said_to_be(fill: float) -> None:
    assert "safe area" not in kinds(framed(fill=fill))
    assert "safe area" in kinds(framed(fill=fill + (0.93 - fill)))


def test_a_report_holds_every_finding_and_no_markup_from_outside() -> None:
    shot = framed()
    _short(shot)
    places = [Place.of(one, 7, "<b>shot</b>", "v") for one in checked(shot)]
    page = report("<script>x</script>", places)
    assert "<script>" not in page and "<b>" not in page and "&lt;b&gt;shot" in page
    assert page.count("<tr>") == 1 + len(places) and "Nothing to look at" in report("x", [])


def test_plate_and_words_stay_together_in_other_shapes(tmp_path_factory: pytest.TempPathFactory) -> None:
    from dreizack.core.library import shelve
    from dreizack.core.scene import sight
    from dreizack.core.sequence.framing import reframed
    from dreizack.demo import bring_demo_files, demo_shots

    folder = tmp_path_factory.mktemp("library")
    bring_demo_files(folder)
    shelve(folder)
    shot = demo_shots()["on-the-quay"]
    points = np.array([[0.3, 0.0, -0.5], [-1.0, 0.6, 0.2]])
    places = []
    for width, height in ((960, 540), (1080, 1920), (2390, 1000), (1000, 1000)):
        seen = sight(reframed(shot, width, height, "fit"), 30.0).seen(points)
        # The plate fills the picture: where in the plate is that?
        size = np.array([width, height])
        plate = (seen - 0.5) * size / max(width / 960, height / 540) + [480, 270]
        places.append(plate)
    for other in places[1:]:
        np.testing.assert_allclose(other, places[0], atol=0.6)


@pytest.mark.parametrize("aspect", [16 / 9, 9 / 16, 1.0, 2.39, 4 / 5])
def test_guides_lie_in_the_picture_and_formats_have_their_shape(aspect: float) -> None:
    found = {guide.name: guide for guide in guides(aspect)}
    left, top, width, height = found["title safe"].boxes[0]
    assert (width, height) == (0.9, 0.9) and left == top == pytest.approx(0.05)
    for name, guide in found.items():
        for x, y, w, h in guide.boxes:
            assert x >= 0 and y >= 0 and x + w <= 1 + 1e-6 and y + h <= 1 + 1e-6
            if name.endswith("within"):
                across, down = name.split()[0].split(":")
                assert w * aspect / h == pytest.approx(float(across) / float(down))
                assert max(w, h) == 1
        assert all(0 <= value <= 1 for line in guide.lines for value in line)
