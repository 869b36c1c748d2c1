"""The fish's eye: what is known of how colours are confused and fade, and what must hold whatever is assumed."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tackle.base.errors import DataError, InvalidInput
from tackle.base.vocabulary import Stain, ids
from tackle.colours.palette import house_palette
from tackle.commands.sight import sight
from tackle.sight.below import window_width_ft
from tackle.sight.look import View, apart, light_down, light_left, nearest_first, points
from tackle.sight.lure import make_faces
from tackle.sight.spectra import assumptions, load_assumptions, load_spectra, spectra
from tackle.sight.stability import steadiness
from tackle.sight.water import attenuation, fitted

PALETTE = house_palette()
STAINS = ids(Stain)
VIEWS = [("bass", v, s, d, "bright") for v in (12, 36, 120) for s in STAINS for d in (1, 4, 10)]


def cards(*names):
    return [PALETTE.by_id[name] for name in names]


def distance(one, other, view):
    return apart(points(cards(one, other), view))[0, 1]


def ask(*colours, **told):
    request = {"eye": "bass", "water": {"visibility_in": 24, "stain": "none"}, "depth_ft": 3, "light": "bright"}
    return sight({**request, "colours": list(colours), **told})


@pytest.mark.parametrize("stain", STAINS)
@pytest.mark.parametrize("visibility_in", [4, 12, 30, 60, 120, 300])
def test_a_water_keeps_both_relations_of_its_secchi_depth(stain, visibility_in):
    water, depth = fitted(visibility_in, stain), visibility_in * 0.0254
    down = attenuation(water, 0.83)
    quanta = spectra().daylight * spectra().waves
    left = (quanta * np.exp(-down * depth)).sum() / quanta.sum()
    assert -np.log(left) == pytest.approx(1.44 if stain == "silt" else 1.7, rel=1e-3)
    seen = spectra().daylight * np.exp(-down * depth / 2) * spectra().observer[1]
    beam = (water.beam * seen).sum() / seen.sum()
    assert 0.58 < 4.8 / beam / depth < 0.68  # the horizontal visibility (Zaneveld & Pegau 2003)


@pytest.mark.parametrize("view", VIEWS)
def test_what_fish_confuse_is_near_and_what_they_tell_is_far(view):
    view = View(*view)
    whole = distance("white-flat", "black-plain", view)
    assert distance("white-flat", "bone", view) < 0.15 * whole
    water = {"visibility_in": view.visibility_in, "stain": view.stain}
    pale = ask({"side": "#ffffff"}, {"side": "#fffbd0"}, water=water, depth_ft=view.depth_ft)
    assert pale["pairs"][0]["apart"] < 0.1 * max(whole, 0.1)
    assert distance("black-plain", "black-blue-plain", view) < 0.1 * whole
    table = apart(points(cards("white-flat", "black-plain", "bone", "red-craw", "green-pumpkin-plain"), view))
    assert table[0, 1] >= 0.9 * table.max()  # the last pair to merge


def test_white_and_chartreuse_are_near_in_hue_and_part_in_brightness():
    white, chartreuse, orange = (
        place[1] for place in points(cards("white-flat", "chartreuse-white", "orange-loud"), SHALLOW)
    )
    assert abs(white[0] - chartreuse[0]) < 0.35 * abs(white[0] - orange[0])
    assert abs(white[1] - chartreuse[1]) > 0.3


SHALLOW = View("bass", 60, "none", 2, "bright")


def test_red_goes_dark_with_depth_and_sooner_for_the_inshore_eye():
    def brightness(eye, depth):
        red, black, white = (
            place[1, 1]
            for place in points(cards("red-craw", "black-plain", "white-flat"), View(eye, 120, "none", depth, "bright"))
        )
        return (red - black) / (white - black)

    for eye in ("bass", "drum"):
        fading = [brightness(eye, depth) for depth in (1, 8, 20, 40)]
        assert fading == sorted(fading, reverse=True)
    assert brightness("drum", 8) < brightness("bass", 8)


@pytest.mark.parametrize("stain", STAINS)
@pytest.mark.parametrize("eye", ["bass", "drum"])
def test_in_murk_hue_is_lost_before_light_and_dark(eye, stain):
    bold = cards("red-craw", "chartreuse-white", "orange-loud", "green-pumpkin-plain", "white-flat", "black-plain",
                 "dark-purple-plain", "chartreuse-blue")  # fmt: skip

    def share(visibility_in):
        hue, bright = points(bold, View(eye, visibility_in, stain, 1.5, "bright"))[:, 1].std(axis=0)
        return hue / bright

    assert share(6) < share(12) < share(40)


def test_without_light_nothing_is_told_apart():
    table = apart(points(list(PALETTE.cards[::6]), View("bass", 60, "none", 3, "night")))
    assert table.max() < 0.05
    assert light_left(View("bass", 12, "silt", 40, "bright")) < 1e-6
    assert apart(points(list(PALETTE.cards[::6]), View("bass", 12, "silt", 40, "bright"))).max() < 0.05


views = st.builds(
    View, st.sampled_from(["bass", "drum"]), st.sampled_from([8.0, 24.0, 60.0, 150.0]), st.sampled_from(STAINS),
    st.sampled_from([0.5, 3.0, 9.0]), st.sampled_from(["bright", "overcast"]), st.sampled_from([0.2, 0.6, 1.5]),
)  # fmt: skip


@given(views)
def test_more_range_never_parts_two_colours(view):
    some = list(PALETTE.cards[::9])
    near = apart(points(some, view))
    far = apart(
        points(some, View(view.eye, view.visibility_in, view.stain, view.depth_ft, view.light, view.range_ft * 2))
    )
    assert (far <= near * 1.02 + 0.05).all()  # paint that glows may part by a hair where the blue fades first


@given(views)
def test_distances_do_not_hang_on_how_bright_the_sky_is(view):
    some = list(PALETTE.cards[::9])
    no_noise = assumptions().with_values(dark=1e-15)
    bright, dim = (apart(points(some, view, no_noise.with_values(surface=share))) for share in (0.97, 0.3))
    assert dim == pytest.approx(bright, rel=1e-6)
    pairs = np.triu_indices(len(some), 1)
    noisy = apart(points(some, view))[pairs]
    assert np.corrcoef(noisy.argsort().argsort(), bright[pairs].argsort().argsort())[0, 1] > 0.85


def test_the_order_stands_under_other_assumptions_and_calls_do_not():
    views = [View("bass", visibility, "none", 3, "bright") for visibility in (20, 60)]
    found = {one.what: one for one in steadiness(PALETTE.cards[::4], views)}
    assert min(one.ranks for one in found.values()) > 0.93
    assert found["seen from twice as far"].flips > 0.2
    assert found["cones half as noisy"].ranks == pytest.approx(1)


def test_the_command_names_what_it_is_asked():
    told = ask("bone", {"back": "#101010", "side": "#202020"}, range_ft=0.25)
    assert told["range_ft"] == 0.25
    assert {(p["colour"], p["part"]) for p in told["points"]} == {
        (name, part) for name in ("bone", 1) for part in ("back", "side", "belly")
    }
    (pair,) = told["pairs"]
    assert (pair["first"], pair["second"], pair["one"]) == ("bone", 1, "no")
    assert ask("bone")["range_ft"] == 0.5
    assert all(len(one[part]) == 7 for one in told["screen"] for part in ("back", "side", "belly", "water"))
    order = [pair["apart"] for pair in ask("bone", "tiger", "black-plain", "red-craw")["pairs"]]
    assert order == sorted(order)
    assert len(nearest_first(points(cards("bone", "tiger", "black-plain"), SHALLOW))) == 3


@pytest.mark.parametrize(
    "wrong",
    [{"eye": "hawk"}, {"water": {"visibility_in": 0}}, {"water": 3}, {"light": "noon"}, {"depth_ft": -1},
     {"colours": []}, {"colours": ["mauve"]}, {"colours": [{"back": "red"}]}, {"colours": [{}]}, {"range_ft": "far"}],
)  # fmt: skip
def test_what_makes_no_sense_is_refused(wrong):
    with pytest.raises(InvalidInput):
        ask("bone", **wrong) if "colours" not in wrong else ask(*wrong["colours"])


def test_broken_data_files_are_named(tmp_path):
    path = tmp_path / "eye.toml"
    path.write_text("weber = 0\n")
    with pytest.raises(DataError, match=r"eye\.toml"):
        load_assumptions(path)
    path.write_text("wavelengths_nm = [400]\n")
    with pytest.raises(DataError, match="33"):
        load_spectra(path)


ORANGE = {"side": "#ff6a00", "fluorescent": {"excites": [400, 570], "emits": 600, "yield": 0.5}}


def hue_beside_grey(painted, view):
    """How far a colour is from a grey of its own brightness in hue, by the side."""
    answer = ask(painted, *({"side": f"#{grey:02x}" + f"{grey:02x}" * 2} for grey in range(8, 256, 8)), **view)
    sides = [one for one in answer["points"] if one["part"] == "side"]
    grey = min(sides[1:], key=lambda one: abs(one["bright"] - sides[0]["bright"]))
    return abs(sides[0]["hue"] - grey["hue"])


@pytest.mark.parametrize(("stain", "visibility_in"), [("none", 400), ("algae", 240)])
def test_at_thirty_feet_fluorescent_orange_keeps_its_hue_and_plain_red_has_lost_it(stain, visibility_in):
    view = {"depth_ft": 30, "water": {"visibility_in": visibility_in, "stain": stain}}
    kept, lost = hue_beside_grey(ORANGE, view), hue_beside_grey({"side": "#c01818"}, view)
    assert kept > assumptions().number("limit", "two_above") > 1.5 > lost
    assert hue_beside_grey({"side": ORANGE["side"]}, view) < kept / 3


def test_in_tea_coloured_water_there_is_less_to_excite_it():
    gain = {}
    for stain, visibility_in in (("none", 240), ("tannic", 36)):
        faces = make_faces((PALETTE.by_id["chartreuse-soft"],), assumptions())
        light = light_down(View("bass", visibility_in, stain, 8, "bright"), assumptions())
        given = faces.shines(light)[0, 1].sum()
        gain[stain] = given / (faces.reflects[0, 1] * light).sum() - 1
    assert gain["tannic"] < 0.2 * gain["none"]


@given(st.floats(0, 30), st.sampled_from(STAINS), st.floats(12, 300))
def test_no_more_light_is_given_out_than_was_taken_in(depth, stain, visibility):
    light = light_down(View("bass", visibility, stain, depth, "bright"), assumptions())
    faces = make_faces(tuple(PALETTE.cards[::6]), assumptions())
    assert (faces.shines(light).sum(axis=-1) <= light.sum() * (1 + 1e-9)).all()


def outline(*colours, sky="bright", **told):
    answer = ask(*colours, view="below", sky=sky, **told)
    return {one["colour"]: one["contrast"] for one in answer["outline"]}


@pytest.mark.parametrize("sky", ["bright", "overcast", "night"])
def test_from_below_what_is_opaque_is_an_outline_and_what_is_see_through_is_less_of_one(sky):
    seen = outline("black-plain", "white-flat", "clear-ghost", sky=sky)
    assert seen["black-plain"] >= seen["white-flat"] > 1.5 * seen["clear-ghost"] > 0
    part = {"side": "#dddddd", "opacity": {"back": 1.0, "side": 0.4, "belly": 0.4}}
    assert outline(part, {"side": "#dddddd"}, sky=sky)[0] < outline({"side": "#dddddd"}, sky=sky)[0]


def test_white_and_bone_are_one_from_below_and_there_is_no_hue_at_night():
    answer = ask("white-flat", "bone", "black-plain", view="below", sky="bright")
    assert {(pair["first"], pair["second"]): pair["one"] for pair in answer["pairs"]}["white-flat", "bone"] == "yes"
    assert {point["part"] for point in answer["points"]} == {"belly"}
    assert all(point["hue"] == 0 for point in ask("bone", "tiger", view="below", sky="night")["points"])


def test_a_mirror_flashes_in_the_sun_alone_and_less_the_murkier_it_is():
    def flash(colour, **told):
        (one,) = ask(colour, **told)["flash"]
        return one["share"], one["bright"]

    share, bright = flash("gold-plain")
    assert 0 < share < 0.4
    assert bright > 1
    assert flash("gold-plain", light="overcast")[0] == 0
    assert flash("white-flat") == (0, 0)
    assert flash("gold-plain", water={"visibility_in": 8, "stain": "silt"})[1] < bright / 3


def test_gold_and_silver_are_two_and_a_painted_back_is_not_seen_through():
    view = View("bass", 60, "none", 3, "bright")
    assert distance("gold-plain", "silver-plain", view) > 0.5
    glass = {"back": "#ffffff", "side": "#ffffff", "opacity": {"back": 1.0, "side": 0.2, "belly": 0.2}}
    answer = ask(glass, {"back": "#ffffff", "side": "#ffffff"})
    bright = {(one["colour"], one["part"]): one["bright"] for one in answer["points"]}
    assert bright[0, "back"] == bright[1, "back"]
    assert bright[0, "side"] < bright[1, "side"]


@pytest.mark.parametrize(
    ("other", "one"), [("black-blue-plain", "yes"), ("dark-purple-plain", "in doubt"), ("white-flat", "no")]
)
def test_what_is_one_is_told_by_a_band(other, one):
    (pair,) = ask("black-plain", other, water={"visibility_in": 60, "stain": "none"})["pairs"]
    assert pair["one"] == one
    assert pair["most"] >= pair["apart"]


def glow(low, high, emits):
    return {"fluorescent": {"excites": [low, high], "emits": emits, "yield": 0.4}}


@pytest.mark.parametrize(
    "wrong",
    [{"opacity": {"side": 2}}, {"finish": "shiny"}, glow(500, 400, 600), glow(400, 500, 450),
     {"fluorescent": {"excites": [400, 500]}}],
)  # fmt: skip
def test_paint_that_cannot_be_is_refused(wrong):
    with pytest.raises(InvalidInput):
        ask({"side": "#ff6a00", **wrong})


def test_the_window_is_as_wide_as_divers_are_told():
    assert window_width_ft(10.0) / 2 == pytest.approx(11.3, rel=0.01)  # 1.13 times the depth
