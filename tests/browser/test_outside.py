"""The view out of the window: in three dimensions where the browser draws them, and simply where not."""

from collections.abc import Iterator

import pytest

from tests.browser.conftest import a_browser
from tests.browser.person import Person

# The colours of each canvas's upper and lower quarter, in the middle, and how many there are in all of it.
COLOURS = """
return [...document.querySelectorAll("figure canvas")].map((canvas) => {
  const {width, height} = canvas, on = canvas.getContext("2d");
  const all = on.getImageData(0, 0, width, height).data;
  const at = (share) => [...on.getImageData(width / 2, Math.round(height * share), 1, 1).data];
  const found = new Set();
  for (let i = 0; i < all.length; i += 4) found.add(all[i] << 16 | all[i + 1] << 8 | all[i + 2]);
  return {above: at(0.05), below: at(0.75), many: found.size};
});
"""
# Time passes slowly for the page, so that no look takes too long for it: other tests leave it little.
PATIENT = "const now = performance.now.bind(performance); performance.now = () => now() / 50;"


@pytest.fixture
def deep(served, person) -> Iterator[Person]:
    """Somebody at a browser that draws in three dimensions; the other one has the simple picture."""
    with a_browser(deep=True) as browser:
        browser.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": PATIENT})
        browser.get(served.url)
        yield Person(browser, served.url, served.data, served.sessions)


def to_brief(someone: Person) -> None:
    someone.log_in("tam")
    someone.click("//main//a[contains(@href, '/sorties/')]")
    someone.press("Brief")
    someone.sees("Before the flight")
    someone.keys("jj")
    someone.one("//*[@role='img'][starts-with(@aria-label, 'Out of the window')]")


@pytest.mark.long
def test_sky_ground_and_fields_are_drawn_in_three_dimensions(deep):
    to_brief(deep)
    deep.until(lambda: deep.browser.execute_script(COLOURS))
    for picture in deep.browser.execute_script(COLOURS):
        assert picture["many"] > 100
        # Through haze or not, the sky is brighter than the ground.
        assert sum(picture["above"]) > sum(picture["below"]) + 20


@pytest.mark.long
def test_without_three_dimensions_there_is_the_simple_picture(person):
    to_brief(person)
    assert person.browser.execute_script(COLOURS) == []
