/** Sending what waits, by itself: whenever something was noted, the network is back or some seconds have gone by. Sent
 * twice, it is there once; so nothing is kept back for fear of that. */
import { answered, Failed, quiet } from "../api/client";
import type { Problem } from "../api/types";
import { measureClock } from "../device/clock";
import { whoWasHere } from "../device/who";
import type { KeptEntry } from "../device/database";
import type { NoteStore } from "./store";

const AT_ONCE = 500,
  AGAIN_MS = 5000;

/** idle: nothing waits, or it is being sent. */
export type Link = "idle" | "sending" | "offline" | "logged out" | "refused";

export class Outbox {
  link: Link = "idle";
  private readonly sendLater = () => void this.send();
  private running: Promise<void> | null = null;
  private wanted = false;
  private timer = 0;
  private listeners = new Set<() => void>();

  constructor(private readonly store: NoteStore) {
    window.addEventListener("online", this.sendLater);
  }

  subscribe = (tell: () => void) => {
    this.listeners.add(tell);
    return () => void this.listeners.delete(tell);
  };

  /** What waits is sent; resolves when nothing more can be sent now. */
  send = (): Promise<void> => {
    this.wanted = true;
    this.running ??= this.run().finally(() => {
      this.running = null;
    });
    return this.running;
  };

  stop() {
    window.removeEventListener("online", this.sendLater);
    clearTimeout(this.timer);
  }

  private async run() {
    clearTimeout(this.timer);
    let link: Link = "idle";
    while (this.wanted) {
      this.wanted = false;
      link = "idle";
      for (const sortie of await this.store.waiting()) {
        await this.store.load(sortie);
        const now = await this.sendOf(sortie);
        if (now !== "idle") link = now;
        if (now === "offline" || now === "logged out") break;
      }
    }
    this.say(link);
    if (link === "offline" || link === "logged out")
      this.timer = window.setTimeout(() => void this.send(), AGAIN_MS);
  }

  private async sendOf(sortie: number): Promise<Link> {
    for (;;) {
      const waiting = this.store.of(sortie).filter((k) => k.state === "waiting");
      const batch = waiting.slice(0, AT_ONCE);
      if (batch.length === 0) return "idle";
      // Somebody else, or nobody, is logged in here now: what this person noted is not sent in another's name.
      if (whoWasHere()?.person?.id !== this.store.person) return "logged out";
      this.say("sending");
      try {
        await this.sendBatch(sortie, batch);
      } catch (error) {
        const problem = error instanceof Failed ? error : null;
        if (!problem || problem.status === 0 || problem.status >= 500 || problem.status === 429)
          return "offline";
        if (problem.status === 401) return "logged out";
        const wrong = whichAreWrong(batch, problem);
        await this.store.mark(sortie, new Set(wrong.map((k) => k.id)), "refused", problem.problems[0]);
        if (wrong.length === batch.length && waiting.length === batch.length) return "refused";
      }
    }
  }

  private async sendBatch(sortie_id: number, batch: readonly KeptEntry[]) {
    const asked = Date.now();
    const taken = await answered(
      quiet.POST("/api/sorties/{sortie_id}/entries", {
        params: { path: { sortie_id } },
        body: { entries: batch.map((k) => k.entry) },
      }),
    );
    measureClock(taken.now, asked);
    await this.store.mark(sortie_id, new Set(taken.known), "sent");
    for (const { id, problem } of taken.refused)
      await this.store.mark(sortie_id, new Set([id]), "refused", problem);
    // What was neither known nor refused would be sent for ever.
    const said = new Set([...taken.known, ...taken.refused.map((r) => r.id)]);
    const unsaid = batch.filter((k) => !said.has(k.id)).map((k) => k.id);
    if (unsaid.length > 0) await this.store.mark(sortie_id, new Set(unsaid), "refused", UNSAID);
  }

  private say(link: Link) {
    this.link = link;
    for (const listener of this.listeners) listener();
  }
}

const UNSAID: Problem = {
  where: "entry",
  place: "Entry",
  what: "the server did not say what became of it",
  do: "It is kept here. Reload, then look at Debrief.",
};

/** The entries that a refusal names by their place, or all of the batch where it names none. */
function whichAreWrong(batch: readonly KeptEntry[], { status, problems }: Failed): KeptEntry[] {
  const named = problems.flatMap(({ where }) => {
    const at = /^entries\[(\d+)\]/.exec(where)?.[1];
    const kept = at === undefined ? undefined : batch[Number(at)];
    return kept ? [kept] : [];
  });
  return status === 422 && named.length > 0 ? named : [...batch];
}
