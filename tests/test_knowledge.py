"""The knowledge files: what ships is whole, and an error in them is reported by file and entry."""

import re
from importlib.resources import files

import pytest

from pronostico.core.errors import KnowledgeFault
from pronostico.knowledge import load_closing, load_knowledge, load_tests, parse_knowledge, parse_tests
from pronostico.knowledge.closing import parse_closing
from pronostico.knowledge.in_use import Source, knowledge_from

# Identifiers are stored and exported: they may be added to, and never renamed.
CAUSE_IDS = """
seat-recession valve-stretch valve-burnt held-open worn-train lobe-worn adjuster-backed-off stud-moved
rod-bent rocker-cracked lifter-collapsed release-lost shim-misplaced settled-after-work deposit-on-seat
valve-sticking checked-wrong rings-worn gasket-leak rich-mixture lean-or-air-leak start-circuit-weak
ignition-weak fuel-poor load-on-start bottom-end chain-noise
"""
FINDING_IDS = """
tick tick-gone hard-start heavy-crank kickback stall-at-idle rough-idle hunting-idle cold-miss
steady-miss bog low-power backfire-intake backfire-exhaust deep-knock noise-fades-with-revs blue-smoke
black-smoke after-head-work after-valve-work long-since-check clearance-tight clearance-none
clearance-loose clearance-very-loose side-tight side-loose one-odd-valve tightening loosening
side-tightening high-sink break-tight break-loose visit-shift swings-on-turning thread-sticks-out
thread-run-down locknut-loose stud-loose rocker-cracked rod-runs-out rod-tip-mushroomed lobe-scored
lobe-dull tip-cupped shim-dished copper-flakes iron-filings waggle-dead waggle-wide spongy-lifter
low-lift plug-sooty plug-white plug-oily plug-brown trims-rich trims-lean vacuum-low-steady
vacuum-needle-flicks misfire-count compression-low wet-gain wet-no-gain compression-spread
neighbours-low leak-exhaust leak-intake leak-crankcase leak-coolant compression-high-cranking
battery-weak crank-slow no-spark fuel-stale load-not-relieved sound-half-speed sound-crank-speed
sound-unrelated
"""
TEST_IDS = """
waggle blade-check thread-look roll-rods measure-further lobe-look lift-dial
compression-dry compression-wet leakdown
vacuum-gauge trims-read misfire-read plug-read battery-test crank-speed spark-test fuel-look
relieve-load pull-slowly sound-record oil-look recheck-cold
"""

FOLDER = files("pronostico.knowledge")
FINDINGS = (FOLDER / "findings.toml").read_text("utf-8")
CAUSES = (FOLDER / "causes.toml").read_text("utf-8")


def test_what_ships_is_whole():
    knowledge = load_knowledge()
    assert set(knowledge.causes) == set(CAUSE_IDS.split())
    assert set(FINDING_IDS.split()) <= set(knowledge.findings)
    assert {test.id for test in load_tests()} == set(TEST_IDS.split())
    for cause in knowledge.causes.values():
        assert cause.help and cause.advice
        assert all(len(link.why) > 10 for link in cause.links)
    for finding in knowledge.findings.values():
        # Complaints are commoner without a cause than what only a closer look shows.
        assert 0.01 <= finding.leak <= 0.15


def test_complaints_never_come_in_the_family_of_readings():
    for finding in load_knowledge().findings.values():
        if finding.group == "complaint":
            assert not finding.family.startswith("clearance")


def changed(text, old, new):
    assert old in text
    return text.replace(old, new, 1)


@pytest.mark.parametrize(
    ("findings", "causes", "says"),
    [
        ("nonsense\n" + FINDINGS, CAUSES, r"findings.toml: .*line 1, column 9"),
        (
            changed(FINDINGS, "leak = 0.08", 'leak = "often"'),
            CAUSES,
            r"findings.toml, line 11: finding.0.leak",
        ),
        (
            changed(FINDINGS, "leak = 0.08", "leak = 1.5"),
            CAUSES,
            "findings.toml, line 6: finding tick: leak is 1.5",
        ),
        (
            changed(FINDINGS, 'id = "tick"', 'id = "Tick Tock"'),
            CAUSES,
            r"findings.toml, line 6: finding.0.id",
        ),
        (changed(FINDINGS, 'id = "tick-gone"', 'id = "tick"'), CAUSES, "named twice: tick"),
        (
            changed(FINDINGS, 'id = "bog"', 'id = "bogs"'),
            CAUSES,
            "finding bog: there is no finding of that id",
        ),
        (
            FINDINGS,
            changed(CAUSES, 'strength = "always"', 'strength = "mostly"'),
            r"causes.toml, line \d+: cause.0.link",
        ),
        (
            FINDINGS,
            changed(CAUSES, 'place = "side"', 'place = "bolt"'),
            r"causes.toml, line 10: cause.0.place",
        ),
        (
            FINDINGS,
            changed(CAUSES, "prior = 0.03", "prior = 0.0"),
            "causes.toml, line 6: cause seat-recession: prior is 0",
        ),
        (
            FINDINGS,
            changed(CAUSES, "times = 4.0", "times = -1"),
            r"causes.toml, line 23: cause.0.factor.1.times",
        ),
        (FINDINGS, changed(CAUSES, "advice =", "advise ="), r"causes.toml, line \d: cause.0.adv"),
    ],
)
def test_an_entry_error_is_reported_by_file_and_entry(findings, causes, says):
    with pytest.raises(KnowledgeFault, match=says):
        parse_knowledge(findings, causes)


def test_a_link_without_a_reason_is_refused():
    start = CAUSES.index("why = ", CAUSES.index("[[cause.link]]"))
    end = CAUSES.index("\n", start)
    without = CAUSES[:start] + 'why = " "' + CAUSES[end:]
    with pytest.raises(KnowledgeFault, match=r"reason \(why\) is missing"):
        parse_knowledge(FINDINGS, without)


def line_with(text, needle):
    return text[: text.index(needle)].count("\n") + 1


def test_a_fault_tells_the_line_of_the_link(tmp_path):
    where = CAUSES.index('finding = "cold-miss"', CAUSES.index('id = "held-open"'))
    broken = CAUSES[:where] + CAUSES[where:].replace('finding = "cold-miss"', 'finding = "cold-kiss"', 1)
    line = line_with(broken, 'finding = "cold-kiss"')
    with pytest.raises(KnowledgeFault, match=f"causes.toml, line {line}: cause held-open, finding cold-kiss"):
        parse_knowledge(FINDINGS, broken)


def test_a_mechanics_own_file_is_used_in_place_of_the_one_that_ships(tmp_path):
    (tmp_path / "causes.toml").write_text(changed(CAUSES, "prior = 0.03", "prior = 0.07"), "utf-8")
    own = knowledge_from(tmp_path)
    assert own.knowledge.causes["seat-recession"].prior == 0.07
    assert own.source == Source(own_files=("causes.toml",))
    assert own.tests == load_tests()


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (changed(CAUSES, "prior = 0.03", "prior = 3").encode(), "causes.toml, line 6: cause seat-recession"),
        (changed(CAUSES, "prior = 0.03", "prior = ").encode(), "causes.toml: .*line 11"),
        (b"\xff\xfe", "causes.toml: not UTF-8"),
        (b"#" * 2_000_001, "causes.toml: larger than 2 MB"),
        (b"", "causes.toml: cause: Field required"),
    ],
)
def test_a_faulty_file_is_reported_and_the_one_that_ships_is_used(tmp_path, content, says):
    (tmp_path / "causes.toml").write_bytes(content)
    known = knowledge_from(tmp_path)
    assert known.knowledge == load_knowledge()
    assert known.source.own_files == ()
    assert re.search(says, known.source.fault)


CLOSING = (FOLDER / "closing.toml").read_text("utf-8")
COMPLAINTS = frozenset(kind.id for kind in load_knowledge().findings.values() if kind.group == "complaint")


def test_every_kind_of_engine_closes_up_by_its_own_list_and_no_torque_is_made_up():
    def items(adjustment, fuel="petrol", work="check"):
        return {
            one.id for one in load_closing().item if one.applies(adjustment=adjustment, fuel=fuel, work=work)
        }

    assert {"gasket", "nothing-inside", "oil-level"} <= items("hydraulic") & items("shim-over-bucket")
    assert "camshafts-in" in items("shim-under-bucket") and "camshafts-in" not in items("screw-rocker")
    assert "head-bolts" in items("screw-rocker", work="head-work") - items("screw-rocker")
    assert "plugs" not in items("screw-pushrod", fuel="diesel")
    # Whose fuel is not known is warned of both.
    assert {"fuel-line", "gas-line"} <= items("screw-rocker", fuel=None)
    assert "N m" not in CLOSING and "Nm" not in CLOSING


@pytest.mark.parametrize(
    ("old", "new", "says"),
    [
        ('id = "gasket"', 'id = "seals"', "seals is listed twice"),
        ('complaints = ["tick"]', 'complaints = ["tock"]', "there is no advice for tick"),
        ('complaints = ["tick"]', 'complaints = ["tick", "tock"]', "there is no complaint tock"),
        ('stage = "prove"', 'stage = "later"', r"closing.toml, line \d+: item"),
    ],
)
def test_an_error_in_the_closing_file_is_reported(old, new, says):
    with pytest.raises(KnowledgeFault, match=says):
        parse_closing(changed(CLOSING, old, new), COMPLAINTS)


TESTS = (FOLDER / "tests.toml").read_text("utf-8")


@pytest.mark.parametrize(
    ("old", "new", "says"),
    [
        ('shows = ["fuel-stale"]', 'shows = ["fuel-old"]', "test fuel-look: there is no finding fuel-old"),
        ('shows = ["fuel-stale"]', "shows = []", "test fuel-look: there is no finding"),
        ('id = "fuel-look"', 'id = "oil-look"', "test oil-look: named twice"),
        ("minutes = 1\n", "minutes = 0\n", "test relieve-load: minutes is 0"),
        ('per = "cylinder"', 'per = "bolt"', r"tests.toml, line \d+: test"),
    ],
)
def test_an_error_in_the_tests_is_reported(old, new, says):
    with pytest.raises(KnowledgeFault, match=says):
        parse_tests(changed(TESTS, old, new), tuple(load_knowledge().findings))


def test_a_finding_that_no_cause_speaks_of_is_refused():
    lonely = FINDINGS + FINDINGS[FINDINGS.index("[[finding]]") :].split("[[finding]]")[1].join(
        ["\n[[finding]]", ""]
    ).replace('id = "tick"', 'id = "lonely"').replace('excludes = ["tick-gone"]\n', "")
    with pytest.raises(KnowledgeFault, match="finding lonely: it is evidence for no cause"):
        parse_knowledge(lonely, CAUSES)
