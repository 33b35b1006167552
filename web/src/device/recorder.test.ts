import { Recording, recorderAddress } from "./recorder";

class Source extends EventTarget {
  static last: Source;
  closed = false;
  constructor(readonly url: string) {
    super();
    Source.last = this;
  }
  close() {
    this.closed = true;
  }
  say(kind: string, data: unknown) {
    this.dispatchEvent(new MessageEvent(kind, { data: JSON.stringify(data) }));
  }
}

describe("The recorder", () => {
  beforeEach(() => vi.stubGlobal("EventSource", Source));
  afterEach(() => vi.unstubAllGlobals());

  it("is where the page was told, and nowhere when it was told nothing", () => {
    expect(recorderAddress()).toBe("");
    const meta = document.createElement("meta");
    Object.assign(meta, { name: "recorder", content: "__RECORDER__" });
    document.head.append(meta);
    expect(recorderAddress()).toBe("");
    meta.content = "http://box:1";
    expect(recorderAddress()).toBe("http://box:1");
    meta.remove();
  });
  it("passes on what it is set to and what it found, and keeps a minute and a half for the strip", () => {
    const onHello = vi.fn(),
      onMark = vi.fn();
    const made = new Recording("http://box:1", { onHello, onMark });
    expect(Source.last.url).toBe("http://box:1/live");
    expect(made.heardAt).toBe(0);
    Source.last.say("recorder", { name: "box", qnh_hpa: 1009 });
    expect(onHello).toHaveBeenCalledWith({ name: "box", qnh_hpa: 1009 });
    expect(Date.now() - made.heardAt).toBeLessThan(1000);
    for (let i = 0; i < 16 * 200; i += 1) Source.last.say("sample", [i / 16, 5000 - i, 100, 1, 0, 0, 0]);
    expect(made.heights.at(-1)?.[0]).toBeGreaterThan(199);
    expect((made.heights.at(-1)?.[0] ?? 0) - (made.heights[0]?.[0] ?? 0)).toBeLessThanOrEqual(90);
    expect(made.heights.length).toBeLessThanOrEqual(90 * 4 + 1);
    Source.last.say("mark", { kind: "lowest", time_s: 3, value: 4000, figure: 1 });
    expect(onMark).toHaveBeenCalledTimes(1);
    made.close();
    expect(Source.last.closed).toBe(true);
  });
  it("begins anew where its clock went back", () => {
    const made = new Recording("http://box:1", { onHello: vi.fn(), onMark: vi.fn() });
    Source.last.say("sample", [500, 5000]);
    Source.last.say("sample", [1, 4000]);
    expect(made.heights).toEqual([[1, 4000]]);
  });
});
