/** The recorder in the aircraft, on the cabin's own network: where it is, and what it says. Any box that speaks so will
 * do (docs/formats.md). */

export type MarkKind =
  "begins" | "recovers" | "lowest" | "level" | "most g" | "most g while rolling" | "fastest" | "turns";

export interface Mark {
  kind: MarkKind;
  time_s: number;
  value: number;
  /** How manieth figure since the recording began. */ figure: number;
}

/** What it is set to. */
export interface Hello {
  name: string;
  qnh_hpa: number;
  speed_unit: string;
}

/** Where the school has one, as the page was told when it was served; "" for none. */
export function recorderAddress(): string {
  const said = document.querySelector<HTMLMetaElement>('meta[name="recorder"]')?.content ?? "";
  return said.startsWith("http") ? said : "";
}

/** So long without a word is said. */
export const SILENT_MS = 2000;
/** So much of the flight is kept for the strip, in s and in points a second. */
const KEPT_S = 90,
  DRAWN_HZ = 4;

export interface Listener {
  onHello: (hello: Hello) => void;
  onMark: (mark: Mark) => void;
}

/** The stream as long as somebody listens: the browser itself takes it up again where it broke. */
export class Recording {
  /** The last minute and a half: s by its clock, ft. */ readonly heights: [number, number][] = [];
  heardAt = 0;
  private readonly source: EventSource;

  constructor(address: string, listener: Listener) {
    this.source = new EventSource(`${address}/live`);
    const on = <T>(kind: string, take: (data: T) => void) =>
      this.source.addEventListener(kind, (event) => {
        this.heardAt = Date.now();
        take(JSON.parse((event as MessageEvent<string>).data) as T);
      });
    on<Hello>("recorder", listener.onHello);
    on<Mark>("mark", listener.onMark);
    on<number[]>("sample", ([time, height]) => {
      if (time !== undefined && height !== undefined) this.keep(time, height);
    });
  }

  close(): void {
    this.source.close();
  }

  private keep(time: number, height: number): void {
    const last = this.heights.at(-1);
    if (last && time >= last[0] && time - last[0] < 1 / DRAWN_HZ) return;
    if (last && time < last[0]) this.heights.length = 0;
    this.heights.push([time, height]);
    const from = this.heights.findIndex(([at]) => at > time - KEPT_S);
    if (from > 0) this.heights.splice(0, from);
  }
}
