"""`python -m keelturn live`: a recorder that stands in for a real one on the cabin's own network.

It flies the figures of a plan (recording/recorder.py), spoils what it senses, and streams samples and the
marks found in them as server-sent events (docs/formats.md). It begins when somebody first listens, at the
pace that was asked for, and hangs up now and then where that was asked for. Whoever listens again names the
last event that came, and is sent the marks since then."""

import json
import threading
import time
from collections import deque
from collections.abc import Iterator, Sequence
from dataclasses import astuple, dataclass, field, replace
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

from pydantic import Field

from keelturn.document import Document
from keelturn.flying.conditions import Conditions
from keelturn.formats.documents import SimulateRequest
from keelturn.motion.legs import Floats
from keelturn.recording.live import LiveFinder, Mark, Sample
from keelturn.recording.recorder import record
from keelturn.units import FT, KT, SPEED

HEARTBEAT_S = 1.0
# So many events are kept for whoever comes back.
KEPT = 4000
# So long it is silent between two flights.
BETWEEN_S = 4.0


class Manner(Document):
    """How the stand-in behaves: pace 1 is real time; hangs_up_s: seconds between two hang-ups, null for
    never; flights: how often the plan is flown one after the other; begins_s: how far into the first one
    it begins."""

    port: int = Field(8765, ge=0, le=65535)
    pace: float = Field(1.0, gt=0, le=1000)
    hangs_up_s: float | None = Field(None, gt=0, le=36_000)
    flights: int = Field(1, ge=1, le=1000)
    begins_s: float = Field(0.0, ge=0, le=36_000)


@dataclass(frozen=True, slots=True)
class Event:
    number: int
    kind: str
    data: object

    def written(self) -> bytes:
        return f"id: {self.number}\nevent: {self.kind}\ndata: {json.dumps(self.data)}\n\n".encode()


@dataclass(slots=True)
class Stream:
    """What was sent so far, for everybody who listens."""

    hello: object
    events: deque[Event] = field(default_factory=lambda: deque(maxlen=KEPT))
    changed: threading.Condition = field(default_factory=threading.Condition)
    number: int = 0
    listened: threading.Event = field(default_factory=threading.Event)

    def add(self, kind: str, data: object) -> None:
        with self.changed:
            self.number += 1
            self.events.append(Event(self.number, kind, data))
            self.changed.notify_all()

    def since(self, number: int) -> Iterator[Event | None]:
        """Marks since an event, then everything as it comes; None where nothing came for a second."""
        with self.changed:
            missed = [e for e in self.events if e.number > number and e.kind == "mark"] if number else []
            at = self.number
        yield from missed
        while True:
            with self.changed:
                if self.number <= at:
                    self.changed.wait(HEARTBEAT_S)
                fresh = [event for event in self.events if event.number > at]
            at = fresh[-1].number if fresh else at
            if fresh:
                yield from fresh
            else:
                yield None


def samples_of(rows: Floats, conditions: Conditions) -> Iterator[Sample]:
    """Of a recorder's table (R, 7), with heights on the QNH of the day and speeds in the aircraft's unit."""
    off = conditions.air.pressure_height(0.0) / FT
    a_knot = KT / SPEED[conditions.card.speed_unit]
    for time_s, pressure_ft, knots, *others in rows[:, :7].tolist():
        yield Sample(time_s, pressure_ft - off, knots * a_knot, *others)


def as_sent(mark: Mark) -> dict[str, object]:
    return {"kind": mark.kind, "time_s": mark.time_s, "value": round(mark.value, 2), "figure": mark.figure}


def fly(samples: Sequence[Sample], stream: Stream, manner: Manner) -> None:
    """Every sample at its time since somebody first listened."""
    stream.listened.wait()
    finder, began, ended = LiveFinder(), time.monotonic() - manner.begins_s / manner.pace, 0.0
    for _ in range(manner.flights):
        first = ended - samples[0].time_s
        for one in samples:
            at = one.time_s + first
            if at < manner.begins_s:
                continue
            wait = at / manner.pace - (time.monotonic() - began)
            if wait > 0:
                time.sleep(wait)
            moved = replace(one, time_s=at)
            stream.add("sample", [round(value, 2) for value in astuple(moved)])
            for mark in finder.feed(moved):
                stream.add("mark", as_sent(mark))
        ended += samples[-1].time_s - samples[0].time_s + BETWEEN_S
    stream.add("end", {"flights": manner.flights})


def listener(stream: Stream, hangs_up_s: float | None) -> type[BaseHTTPRequestHandler]:
    class Listener(BaseHTTPRequestHandler):
        protocol_version = "HTTP/1.1"

        def do_GET(self) -> None:
            if self.path != "/live":
                self.send_error(404, "The stream is at /live")
                return
            self.send_response(200)
            self.send_header("Content-Type", "text/event-stream; charset=utf-8")
            self.send_header("Cache-Control", "no-store")
            # The page comes from the school's server, not from here.
            self.send_header("Access-Control-Allow-Origin", "*")
            self.send_header("Connection", "close")
            self.end_headers()
            try:
                self.stream_to_the_end(int(self.headers.get("Last-Event-ID", "0")))
            except (ConnectionError, TimeoutError, ValueError):
                return
            finally:
                self.close_connection = True

        def stream_to_the_end(self, last: int) -> None:
            hangs_up = time.monotonic() + (hangs_up_s or float("inf"))
            self.wfile.write(b"retry: 1000\n" + Event(last, "recorder", stream.hello).written())
            stream.listened.set()
            for event in stream.since(last):
                self.wfile.write(b": nothing new\n\n" if event is None else event.written())
                self.wfile.flush()
                if time.monotonic() > hangs_up:
                    return

        def log_message(self, format: str, *arguments: object) -> None:
            """Nothing: who listens is nobody's business."""

    return Listener


def live(request: SimulateRequest, manner: Manner) -> None:
    """Until it is stopped. Raises ValueError when a figure cannot be computed, OSError where the port is
    taken."""
    conditions = request.conditions()
    table = record(
        request.plan.figures, conditions, request.sensors, request.pilot.who, request.pilot.numbers
    )
    if not len(table.rows):
        raise ValueError("the plan has no figure to fly")
    samples = list(samples_of(table.rows, conditions))
    hello = {
        "name": "stand-in recorder",
        "qnh_hpa": request.plan.day.pressure_hpa,
        "speed_unit": conditions.card.speed_unit,
    }
    stream = Stream(hello)
    server = ThreadingHTTPServer(("127.0.0.1", manner.port), listener(stream, manner.hangs_up_s))
    server.daemon_threads = True
    threading.Thread(target=fly, args=(samples, stream, manner), daemon=True).start()
    print(f"Recorder at http://127.0.0.1:{server.server_address[1]} until Ctrl+C", flush=True)
    server.serve_forever()
