"""Sound on the page: recorded by the microphone or from a file, drawn, heard, compared, in the case."""

import re

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import expect

from pronostico.api.practice import new_seed
from tests.browser.asking import post, send
from tests.sounds import closing_deg, recorded

pytestmark = pytest.mark.browser
ENGINE = "/engines/resurfacer-1"
SOUND = f"{ENGINE}/visits/v8/sound"
# Where the intake of cylinder 3 closes.
TICK_DEG = closing_deg(
    {"valves": [{"id": "3I", "cylinder": 3, "side": "intake"}], "firing_order": [1, 3, 4, 2]}, "3I"
)


@pytest.fixture
def hearing(playwright, browser_type_launch_args, tmp_path):
    """A page whose microphone hears a valve tick, again and again."""
    path = tmp_path / "engine.wav"
    path.write_bytes(recorded(tick_deg=TICK_DEG, clip=False, seconds=12.0, rate_hz=48_000))
    fake = [
        "--use-fake-device-for-media-stream",
        "--use-fake-ui-for-media-stream",
        f"--use-file-for-fake-audio-capture={path}",
    ]
    arguments = {**browser_type_launch_args, "args": [*browser_type_launch_args["args"], *fake]}
    browser = playwright.chromium.launch(**arguments)
    yield browser.new_page(viewport={"width": 1280, "height": 800}, service_workers="block")
    browser.close()


def file(content, name="engine.wav", kind="audio/wav"):
    return {"name": name, "mimeType": kind, "buffer": content}


def fill(page, *, phase="as found", clip=True):
    """What is known beside the recordings of these tests."""
    page.get_by_role("textbox", name="Speed (rpm)").fill("900")
    page.get_by_role("button", name=phase).click()
    choice = page.get_by_label("Ignition clip on cylinder 1")
    if clip and not choice.is_visible():
        page.get_by_text("Ignition clip and microphone").click()
    if clip:
        choice.select_option("2")


def test_the_engine_is_recorded_and_listened_to(hearing, server):
    page = hearing
    page.goto(server.address + SOUND)
    page.get_by_role("textbox", name="Speed (rpm)").fill("900")
    found = page.get_by_text("Counts as evidence in the cases of this visit.")
    # A busy machine drops some of the sound, which is said: as a person would, once more.
    missing = page.get_by_role("alert").get_by_text("of sound is missing")
    for before in range(3):
        page.get_by_role("button", name="Record", exact=True).click()
        expect(page.get_by_role("meter", name="Level")).to_be_visible()
        expect(page.get_by_text(re.compile(r"^([6-9]|\d\d) s$"))).to_be_visible()
        page.get_by_role("button", name="Stop and save").click()
        expect(page.get_by_role("link", name=re.compile("before adjusting"))).to_have_count(before + 1)
        if not missing.count():
            break
    expect(found.first).to_be_visible()
    # The answer of a room's microphone is the simulator's tick, whatever the browser does to its rate.
    expect(page.get_by_text("Valve train: it comes once in two turns of the crank.").first).to_be_visible()


def test_sound_that_went_missing_is_said_and_the_rest_is_saved(hearing, server):
    page = hearing
    page.goto(server.address + SOUND)
    # The clock goes on, and no sound comes for so long.
    page.evaluate(
        "window.missingMs = 0; const now = performance.now.bind(performance);"
        "performance.now = () => now() + window.missingMs"
    )
    page.get_by_role("textbox", name="Speed (rpm)").fill("900")
    page.get_by_role("button", name="Record", exact=True).click()
    expect(page.get_by_text("2 s", exact=True)).to_be_visible()
    page.evaluate("window.missingMs = 700")
    expect(page.get_by_text("5 s", exact=True)).to_be_visible()
    page.get_by_role("button", name="Stop and save").click()
    alert = page.get_by_role("alert").get_by_text("s of sound is missing")
    expect(alert).to_be_visible()
    assert 0.6 < float(alert.inner_text().split()[0]) < 3.0
    expect(page.get_by_role("link", name=re.compile("before adjusting"))).to_have_count(1)


def test_a_tick_leads_through_its_picture_into_the_case_and_is_gone_after_adjusting(watched, server):
    page = watched
    page.goto(f"{server.address}{ENGINE}/visits/v8/inspect")
    page.get_by_role("link", name="Sound").click()
    fill(page)
    page.get_by_label("Sound file").set_input_files(file(recorded(tick_deg=TICK_DEG)))
    expect(page.get_by_text(re.compile("3I as it closes"))).to_be_visible()
    assert Axe().run(page).violations_count == 0
    page.get_by_role("link", name=re.compile("before adjusting")).click()
    strip = page.get_by_role("img", name=re.compile("One cycle of the sound, ticks: "))
    expect(strip).to_be_visible()
    expect(strip.get_by_text("3I", exact=True)).to_be_visible()
    expect(strip.get_by_text("cylinder 4", exact=True)).to_be_visible()
    expect(page.get_by_text("This engine's valve timing is not entered")).to_be_visible()
    expect(page.get_by_text("A recording is no reason to skip the blade.")).to_be_visible()
    assert Axe().run(page).violations_count == 0

    fill_case = {"id": "heard", "opened": "2026-06-01", "visit": "v8"}
    assert post(f"{server.address}/api{ENGINE}/cases", json=fill_case).status_code == 201
    page.goto(f"{server.address}{ENGINE}/cases/heard")
    expect(page.get_by_role("link", name=re.compile("^Valve train: "))).to_be_visible()
    expect(page.get_by_text("Counts as one witness.")).to_be_visible()
    assert Axe().run(page).violations_count == 0
    page.get_by_role("link", name="Record the noise").click()

    fill(page, phase="as left")
    page.get_by_label("Sound file").set_input_files(file(recorded(seed=2)))
    expect(page.get_by_text(re.compile("^The tick is gone"))).to_be_visible()
    page.get_by_role("link", name=re.compile("after adjusting")).click()
    expect(page.get_by_text("Before setting")).to_be_visible()
    expect(page.get_by_text("After setting")).to_be_visible()


def test_a_part_is_heard_by_holding_and_one_cycle_slowly(watched, server):
    page = watched
    page.goto(server.address + SOUND)
    page.get_by_role("button", name="Simulated microphone").click()
    page.get_by_role("link", name=re.compile("before adjusting")).click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("simulated")
    moment = page.get_by_role("slider", name=re.compile("Moment of the recording"))
    moment.focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowRight")
    expect(moment).to_have_attribute("aria-valuetext", "1.0 s of 12 s")
    page.keyboard.down(" ")
    expect(page.get_by_role("button", name="Stop", exact=True)).to_be_visible()
    page.keyboard.up(" ")
    slowly = page.get_by_role("button", name="Hear one cycle slowly")
    slowly.click()
    expect(page.get_by_role("button", name="Stop", exact=True)).to_be_visible()
    # Six times round, a quarter as fast, and it ends by itself.
    expect(slowly).to_be_visible()
    box = moment.bounding_box()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + 20)
    page.mouse.down()
    expect(moment).to_have_attribute("aria-valuetext", "6.0 s of 12 s")
    expect(page.get_by_role("button", name="Stop", exact=True)).to_be_visible()
    page.mouse.up()
    expect(slowly).to_be_visible()


def test_what_is_no_sound_is_refused_and_what_was_recorded_is_not_lost(page, server):
    page.goto(server.address + SOUND)
    page.get_by_role("textbox", name="Speed (rpm)").fill("fast")
    expect(page.get_by_text("must be a number from 200 to 9000 rpm")).to_be_visible()
    expect(page.get_by_role("button", name="Record", exact=True)).to_be_disabled()
    page.get_by_role("textbox", name="Speed (rpm)").fill("900")
    page.get_by_label("Sound file").set_input_files(file(b"no sound at all", "tick.m4a", "audio/mp4"))
    expect(page.get_by_text(re.compile("ffmpeg must be installed"))).to_be_visible()
    with page.expect_download() as download:
        page.get_by_role("button", name="Save it as a file").click()
    assert download.value.suggested_filename == "tick.m4a"
    page.get_by_label("Sound file").set_input_files(file(recorded(tick_deg=TICK_DEG, clip=False)))
    says = page.get_by_text("Valve train: it comes once in two turns of the crank.", exact=True)
    expect(says).to_be_visible()
    expect(page.get_by_text("It is not saved yet")).to_be_hidden()


def test_a_wrong_entry_is_corrected_and_the_sound_deleted(watched, server):
    page = watched
    sent = send(
        "PUT",
        f"{server.address}/api{ENGINE}/visits/v8/recordings/r1?rpm=900",
        content=recorded(tick_deg=TICK_DEG),
        headers={"Content-Type": "audio/wav"},
    )
    assert sent.status_code == 200
    page.goto(f"{server.address}{SOUND}/r1")
    expect(page.get_by_text("Without an ignition clip on a second channel")).to_be_visible()
    page.get_by_text("Ignition clip and microphone").click()
    page.get_by_label("Ignition clip on cylinder 1").select_option("2")
    page.get_by_role("button", name="Listen again with this").click()
    expect(page.get_by_text(re.compile("3I as it closes"))).to_be_visible()
    page.get_by_role("button", name="Delete the sound alone").click()
    page.get_by_role("button", name="Really delete the sound?").click()
    expect(page.get_by_text("Its sound was deleted; what it said stays.")).to_be_visible()
    page.get_by_role("button", name="Delete with what it says").click()
    page.get_by_role("button", name="Really delete all of it?").click()
    expect(page.get_by_text("None yet.")).to_be_visible()


def test_the_practice_engine_is_heard_named_through_the_case_and_heard_again_after_setting(watched, server):
    page = watched
    server.override(new_seed, lambda: 7)
    page.goto(server.address + "/bench/practice")
    engine = page.locator("label").filter(has_text=re.compile("^engine")).get_by_role("combobox")
    engine.select_option("R4-26G")
    page.get_by_label("fault").select_option("adjuster-backed-off")
    page.get_by_role("button", name="Start", exact=True).click()
    page.get_by_role("tab", name="Sound").click()
    page.get_by_role("button", name="Run the engine and record it").click()
    strip = page.get_by_role("img", name=re.compile("One cycle of the sound, ticks: "))
    expect(strip).to_be_visible()
    expect(strip.get_by_text("2E", exact=True)).to_be_visible()
    page.get_by_role("button", name="Hear one cycle slowly").click()
    expect(page.get_by_role("button", name="Stop", exact=True)).to_be_visible()
    page.get_by_role("tab", name="Diagnosis").click()
    page.get_by_role("button", name="What would a case say?").click()
    case = page.get_by_role("region", name="What a case would say")
    expect(case.get_by_role("listitem").filter(has_text="adjuster backed off, 2E")).to_be_visible()
    expect(case.get_by_text("noise at half crank speed, 2E").first).to_be_visible()
    # Set beside the page, as its hands would.
    run = page.url.rsplit("/", 1)[-1]
    steps = f"{server.address}/api/practice/runs/{run}/steps"
    known = page.request.get(steps.removesuffix("/steps")).json()
    valve = next(one for one in known["valves"] if one["valve"] == "2E")
    middle = (valve["spec"]["min_mm"] + valve["spec"]["max_mm"]) / 2
    for _ in range(72):
        waggle = {"number": known["steps"], "kind": "waggle", "valve": "2I"}
        known = post(steps, json=waggle).json()
        at_top = next(one for one in known["valves"] if one["valve"] == "2I")["waggle"] == "click"
        fires = next(one["fires_deg"] for one in known["firing"] if one["cylinder"] == 2)
        if at_top and (known["crank_deg"] - fires) % 720 < 10:
            break
        turn = {"number": known["steps"], "kind": "turn", "by_deg": 10}
        known = post(steps, json=turn).json()
    number = known["steps"]
    post(steps, json={"number": number, "kind": "set", "valve": "2E", "target_mm": middle})
    post(steps, json={"number": number + 1, "kind": "lock", "valve": "2E"})
    page.reload()
    page.get_by_role("tab", name="Sound").click()
    page.get_by_role("button", name="Run the engine and record it").click()
    expect(page.get_by_text(re.compile("^The tick is gone"))).to_be_visible()
