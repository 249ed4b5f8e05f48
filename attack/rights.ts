import type { Answer, Client } from "./client";
import type { Scene } from "./people";
import { outcome, type Outcome } from "./report";

const AREA = "another company";
const refused = (attack: string, answer: Answer): Outcome =>
  outcome(AREA, attack, "403", answer.status, answer.status === 403);

interface Listed {
  items: { id: number; company?: string; code?: string; login?: string }[];
}

/** Somebody of one company against what belongs to another, and to the group. */
export async function attackRights(scene: Scene): Promise<Outcome[]> {
  const { inside, admin, other, login } = scene;
  const people = (await admin.read<Listed>("/api/v1/people")).items;
  const chief = people.find((p) => p.login === "admin")!;
  const self = people.find((p) => p.login === login)!;
  const everywhere = ["admin", "controller"].map((role) => ({ role, company: null }));
  const password = "taken by a small one 7";
  const group = { login: "admin", name: "Taken over", password, grants: everywhere };
  const rates = [{ base: "EUR", quote: "GBP", date: "2026-11-03", rate: "0.5" }];
  const outcomes = [
    refused(
      "sets the chief administrator's password",
      await inside.post("/api/v1/people", { id: chief.id, ...group }),
    ),
    refused(
      "makes itself administrator of the group",
      await inside.post("/api/v1/people", { id: self.id, login, name: "Me", grants: everywhere }),
    ),
    refused("changes rates", await inside.post("/api/v1/rates", { rates })),
    refused("adds a rule of approval", await inside.post("/api/v1/approval-rules", RULE)),
    refused(
      "closes periods",
      await inside.post("/api/v1/periods/switch", {
        company: other,
        book: "IFRS",
        area: "all",
        periods: ["2026-10"],
        to: "closed",
      }),
    ),
    refused(
      "reads the trial balance",
      await inside.get(`/api/v1/trial-balance?company=${other}&period=2026-10`),
    ),
    ...(await seenLists(scene)),
    ...(await drafts(scene)),
  ];
  return outcomes;
}

const RULE = { type: null, company: null, minimum: "1.00", currency: "EUR", role: "controller" };

/** Lists show nothing of companies that one has nothing to do with. */
async function seenLists({ inside, other }: Scene): Promise<Outcome[]> {
  const banks = (await inside.read<Listed>("/api/v1/bank-accounts")).items;
  const strange = banks.filter((b) => b.company === other).length;
  const people = (await inside.read<Listed>("/api/v1/people")).items;
  const chiefs = people.filter((p) => p.login === "admin").length;
  return [
    outcome(AREA, "lists bank accounts of others", "none", strange, strange === 0),
    outcome(AREA, "lists people of the group", "none", chiefs, chiefs === 0),
  ];
}

/** Drafts of the other company, as a program and from a browser. */
async function drafts(scene: Scene): Promise<Outcome[]> {
  const { inside, browser, accountant, own, other } = scene;
  const [draft] = (
    await accountant.read<Listed>(`/api/v1/journals?company=${other}&status=draft&limit=1`)
  ).items;
  const { id } = draft!;
  const mine = {
    company: own,
    type: "general",
    date: "2026-11-03",
    description: "taken over",
    lines: [],
  };
  const send = (work: string, input: object) => browser.post(`/drafts?work=${work}`, input);
  const before = await textOf(accountant, id);
  const tries: [string, Answer][] = [
    ["reads a draft", await inside.get(`/api/v1/journals/${id}`)],
    ["posts a draft", await inside.post(`/api/v1/journals/${id}/post`, {})],
  ];
  const sent: [string, Answer][] = [
    ["overwrites a draft", await send("save", { id, overwrite: true, content: mine })],
    ["posts it with its own content", await send("post", { id, version: 1, content: mine })],
    ["takes it for an invoice", await send("invoice-save", { id, overwrite: true, content: mine })],
    ["deletes it", await send("delete", { id, version: 1 })],
  ];
  const after = await textOf(accountant, id);
  const unchanged = outcome(AREA, "the draft afterwards", "as before", "", before === after);
  return [
    ...tries.map(([attack, answer]) => refused(attack, answer)),
    ...sent.map(([attack, answer]) => {
      const { ok, message } = JSON.parse(answer.text || "{}") as { ok?: boolean; message?: string };
      return outcome(AREA, attack, "refused", message ?? answer.status, ok === false);
    }),
    { ...unchanged, got: unchanged.holds ? "as before" : "changed" },
  ];
}

const textOf = async (client: Client, id: number): Promise<string> =>
  (await client.get(`/api/v1/journals/${id}`)).text;
