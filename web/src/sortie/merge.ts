/** Two who changed the same sortie: what only one of them changed is kept from each; what both changed is asked for. Pure. */

export interface Clash {
  /** The place in the sheets, as the server writes it: plan.figures[f3].start_ft. */ where: string;
  mine: unknown;
  theirs: unknown;
}
export type Choice = "mine" | "theirs";

type Tree = Record<string, unknown>;
type Item = Tree & { id: string };
const GONE = undefined;

/** base: what both began with. choose: what counts where both changed the same; mine where nothing is said. */
export function merged<T>(
  base: T,
  mine: T,
  theirs: T,
  choose: (where: string) => Choice = () => "mine",
): { result: T; clashes: Clash[] } {
  const clashes: Clash[] = [];
  const result = both(base, mine, theirs, "", { clashes, choose }) as T;
  return { result, clashes };
}

/** Whether two versions of the sheets differ at a place, as the server writes it. */
export function differs(one: object, other: object, where: string): boolean {
  return !same(valueAt(one, where), valueAt(other, where));
}

function valueAt(sheets: object, where: string): unknown {
  let here: unknown = sheets;
  for (const step of where.match(/[^.[\]]+|\[[^\]]*\]/g) ?? []) {
    if (Array.isArray(here))
      here =
        step === "order"
          ? here.map((item: Item) => item.id)
          : here.find((item: Item) => `[${item.id}]` === step);
    else here = isTree(here) ? (here[step] ?? here[`${step}_id`]) : GONE;
  }
  return here;
}

interface Work {
  clashes: Clash[];
  choose: (where: string) => Choice;
}

function both(base: unknown, mine: unknown, theirs: unknown, where: string, work: Work): unknown {
  if (same(mine, theirs)) return mine;
  if (same(base, mine)) return theirs;
  if (same(base, theirs)) return mine;
  if (isTree(mine) && isTree(theirs)) {
    const was = isTree(base) ? base : {};
    const names = [...new Set([...Object.keys(theirs), ...Object.keys(mine)])];
    return Object.fromEntries(
      names
        .map((name) => {
          const at = where ? `${where}.${name}` : name;
          return [name, both(was[name], mine[name], theirs[name], at, work)] as const;
        })
        .filter(([, value]) => value !== GONE),
    );
  }
  if (isList(mine) && isList(theirs)) return lists(isList(base) ? base : [], mine, theirs, where, work);
  return chosen(mine, theirs, where, work);
}

function lists(base: Item[], mine: Item[], theirs: Item[], where: string, work: Work): Item[] {
  const of = (list: Item[], id: string) => list.find((item) => item.id === id);
  const ids = (list: Item[]) => list.map((item) => item.id);
  const kept = new Map<string, Item>();
  for (const id of new Set([...ids(theirs), ...ids(mine)])) {
    const item = both(of(base, id), of(mine, id), of(theirs, id), `${where}[${id}]`, work);
    if (item !== GONE) kept.set(id, item as Item);
  }
  const shared = ids(mine).filter((id) => kept.has(id) && ids(theirs).includes(id));
  const order = (list: Item[]) => ids(list).filter((id) => shared.includes(id));
  const agreed = both(order(base), order(mine), order(theirs), `${where}.order`, work) as string[];
  return inserted(agreed, [ids(mine), ids(theirs)], [...kept.keys()]).map((id) => kept.get(id)!);
}

/** The order with those that it lacks, each after the one it stood after. */
function inserted(order: string[], lists: string[][], all: string[]): string[] {
  const found = [...order];
  for (const id of all.filter((one) => !order.includes(one))) {
    const list = lists.find((ids) => ids.includes(id)) ?? [];
    const before = list.slice(0, list.indexOf(id)).reverse();
    const after = before.find((other) => found.includes(other));
    found.splice(after === undefined ? 0 : found.indexOf(after) + 1, 0, id);
  }
  return found;
}

function chosen(mine: unknown, theirs: unknown, where: string, work: Work): unknown {
  work.clashes.push({ where, mine, theirs });
  return work.choose(where) === "mine" ? mine : theirs;
}

function same(a: unknown, b: unknown): boolean {
  return a === b || ordered(a) === ordered(b);
}

/** As text in which the order of names does not count. */
function ordered(value: unknown): string {
  return JSON.stringify(value ?? null, (_, part: unknown) =>
    isTree(part) ? Object.fromEntries(Object.entries(part).sort(([a], [b]) => (a < b ? -1 : 1))) : part,
  );
}

function isTree(value: unknown): value is Tree {
  return typeof value === "object" && value !== null && !Array.isArray(value);
}

function isList(value: unknown): value is Item[] {
  return Array.isArray(value) && value.every((item) => isTree(item) && typeof item.id === "string");
}
