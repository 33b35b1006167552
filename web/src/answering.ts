/** For tests: a server that answers each address with what is given for it, and keeps what it was sent. */
export interface Served {
  /** What was sent with a body, in order. */ sent: { path: string; body: unknown }[];
  /** Everything that was asked, as "POST /api/…". */ asked: string[];
}

export function answering(answers: Record<string, unknown>, usual: unknown = {}): Served {
  const served: Served = { sent: [], asked: [] };
  vi.stubGlobal("fetch", async (request: Request) => {
    const path = new URL(request.url).pathname;
    const text = await request.text();
    served.asked.push(`${request.method} ${path}`);
    if (request.method !== "GET" && text) served.sent.push({ path, body: JSON.parse(text) as unknown });
    return new Response(JSON.stringify(answers[path] ?? usual), {
      headers: { "Content-Type": "application/json" },
    });
  });
  return served;
}
