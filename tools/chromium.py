"""Starting Debian's headless Chromium for browser tests and screenshots."""

import tempfile

from selenium import webdriver
from selenium.webdriver.chrome.options import Options
from selenium.webdriver.chrome.service import Service

FLAGS = (
    "--headless=new",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    # A page that was left is gone, and holds nothing open.
    "--disable-features=BackForwardCache",
    "--hide-scrollbars",
    "--lang=en-GB",
    "--host-resolver-rules=MAP * ~NOTFOUND , EXCLUDE 127.0.0.1 , EXCLUDE localhost",
)
# Three dimensions drawn by the processor, however long it takes where others keep it busy.
DEEP = ("--enable-unsafe-swiftshader", "--disable-gpu-watchdog")
FLAT = ("--disable-3d-apis",)


def open_chromium(
    width: int = 1280, height: int = 800, mobile: bool = False, deep: bool = True
) -> webdriver.Chrome:
    """A browser with a profile of its own and this viewport; deep: it draws in three dimensions."""
    options = Options()
    options.binary_location = "/usr/bin/chromium"
    for flag in (
        *FLAGS,
        *(DEEP if deep else FLAT),
        f"--user-data-dir={tempfile.mkdtemp(prefix='keelturn-browser-')}",
    ):
        options.add_argument(flag)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    browser = webdriver.Chrome(options=options, service=Service("/usr/bin/chromedriver"))
    set_viewport(browser, width, height, mobile)
    return browser


def set_viewport(browser: webdriver.Chrome, width: int, height: int, mobile: bool = False) -> None:
    browser.execute_cdp_cmd(
        "Emulation.setDeviceMetricsOverride",
        {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": mobile},
    )
    # A finger points there, which the page asks about.
    touch = {"enabled": mobile, **({"maxTouchPoints": 1} if mobile else {})}
    browser.execute_cdp_cmd("Emulation.setTouchEmulationEnabled", touch)
