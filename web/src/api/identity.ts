/** A name of its own for something made here, before the server knows of it. */
export function identity(): string {
  return [...crypto.getRandomValues(new Uint8Array(16))].map((b) => b.toString(16).padStart(2, "0")).join("");
}
