"""Cutting the network off, for the page and for the worker of the application behind it: a browser told that
a page is offline leaves what goes through the worker online."""

import json
import urllib.request
from contextlib import suppress
from itertools import count
from typing import Any

from selenium import webdriver
from websocket import create_connection

from tests.servers import PATIENCE_S

LINE = {"latency": 0, "downloadThroughput": -1, "uploadThroughput": -1}


class Gone(Exception):
    """A page or worker that ended while it was asked something: nobody answers any more."""


class Network:
    """Of one browser: its pages and workers of now. One that begins later is cut by cutting again."""

    def __init__(self, browser: webdriver.Chrome) -> None:
        at = browser.capabilities["goog:chromeOptions"]["debuggerAddress"]
        found = json.loads(urllib.request.urlopen(f"http://{at}/json/version").read())
        self.socket = create_connection(
            found["webSocketDebuggerUrl"], suppress_origin=True, timeout=PATIENCE_S
        )
        self.ids = count(1)
        self.cut_off: dict[str, str] = {}

    def _ask(self, method: str, params: dict[str, Any] | None = None, session: str | None = None) -> Any:
        number = next(self.ids)
        asked: dict[str, Any] = {"id": number, "method": method, "params": params or {}}
        if session:
            asked["sessionId"] = session
        self.socket.send(json.dumps(asked))
        while True:
            said = json.loads(self.socket.recv())
            if said.get("id") == number:
                if "error" in said:
                    raise Gone(said["error"]["message"])
                return said["result"]
            if said.get("method") == "Target.detachedFromTarget" and said["params"]["sessionId"] == session:
                raise Gone(session)

    def cut(self) -> None:
        for target in self._ask("Target.getTargets", {"filter": [{}]})["targetInfos"]:
            if target["type"] not in ("page", "service_worker") or target["targetId"] in self.cut_off:
                continue
            attach = {"targetId": target["targetId"], "flatten": True}
            with suppress(Gone):
                session = self._ask("Target.attachToTarget", attach)["sessionId"]
                self._ask("Network.enable", session=session)
                self._ask("Network.emulateNetworkConditions", {"offline": True, **LINE}, session=session)
                self.cut_off[target["targetId"]] = session

    def back(self) -> None:
        for session in self.cut_off.values():
            with suppress(Gone):
                self._ask("Network.emulateNetworkConditions", {"offline": False, **LINE}, session=session)
                self._ask("Target.detachFromTarget", {"sessionId": session})
        self.cut_off = {}

    def close(self) -> None:
        self.socket.close()
