/** Reading and setting a value deep inside a document by its path, such as "speeds.stall_ias" or "balance.tanks.0.arm_in". */
type Tree = Record<string, unknown> | unknown[];

export function at(document: unknown, path: string): unknown {
  return path
    .split(".")
    .reduce<unknown>(
      (found, step) =>
        found === null || found === undefined ? undefined : (found as Record<string, unknown>)[step],
      document,
    );
}

/** A copy with the value there; steps that are not there yet are made. */
export function put<D>(document: D, path: string, value: unknown): D {
  const [step = "", ...rest] = path.split(".");
  const tree = (document ?? {}) as Tree;
  const inner = rest.length ? put((tree as Record<string, unknown>)[step], rest.join("."), value) : value;
  if (Array.isArray(tree)) return tree.map((old: unknown, i) => (String(i) === step ? inner : old)) as D;
  return { ...tree, [step]: inner } as D;
}
