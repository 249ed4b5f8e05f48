/**
 * What this window had saved of its drafts. A page that is drawn anew, while or just after its
 * draft was saved, may start from an older version: it goes on from here.
 */
export interface WindowCopy {
  version: number;
  content: unknown;
}

const copies = new Map<string, WindowCopy>();
const queues = new Map<string, Promise<unknown>>();

const nameOf = (kind: string, id: number) => `${kind}.${id}`;

export const copyOf = (kind: string, id: number): WindowCopy | undefined =>
  copies.get(nameOf(kind, id));

export function rememberCopy(kind: string, id: number, copy: WindowCopy): void {
  copies.set(nameOf(kind, id), copy);
}

/** The saves of a draft that are under way in this window, whoever began them. */
export const underWay = (kind: string, id: number): Promise<unknown> =>
  queues.get(nameOf(kind, id)) ?? Promise.resolve();

export function rememberUnderWay(kind: string, id: number, job: Promise<unknown>): void {
  queues.set(nameOf(kind, id), job);
}
