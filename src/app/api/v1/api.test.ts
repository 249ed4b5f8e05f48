import { beforeAll, describe, expect, test } from "vitest";
import { callerOf, must, PASSWORD, BANK_OF_ALPHA } from "../../../../tests/world";
import { world } from "../../../../tests/useWorld";
import { faultsOfTransferFile } from "../../../../tests/strictBankFile";
import { saveBankAccount } from "@/server/banks";
import { addPartnerBank, decidePartnerBank } from "@/server/partners";
import { saveTaxCode } from "@/server/taxes";
import { GET, POST } from "./[...path]/route";

const w = world();
let token = "";
type Answered = { status: number; body: Record<string, unknown>; headers: Headers };

async function call(
  method: "GET" | "POST",
  path: string,
  body?: unknown,
  headers: Record<string, string> = {},
): Promise<Answered> {
  const url = new URL(`http://127.0.0.1/api/v1${path}`);
  const request = new Request(url, {
    method,
    headers: { ...(token ? { authorization: `Bearer ${token}` } : {}), ...headers },
    ...(body === undefined ? {} : { body: typeof body === "string" ? body : JSON.stringify(body) }),
  });
  const response = await (method === "GET" ? GET : POST)(request, {
    params: Promise.resolve({ path: url.pathname.replace("/api/v1/", "").split("/") }),
  });
  const text = await response.text();
  return {
    status: response.status,
    body: (text.startsWith("{") ? JSON.parse(text) : { text }) as Record<string, unknown>,
    headers: response.headers,
  };
}
const signIn = async (user: string): Promise<void> => {
  token = "";
  token = (await call("POST", "/tokens", { user, password: PASSWORD })).body.token as string;
};
const journal = (over: object = {}) => ({
  company: "ALP",
  type: "general",
  date: "2026-10-07",
  description: "By a program",
  post: true,
  lines: [
    {
      account: "6310",
      dimensions: { costCentre: "HARB" },
      description: "Fenders",
      debit: "1250.50",
    },
    { account: "2410", credit: "1250.50" },
  ],
  ...over,
});

beforeAll(() => {
  (globalThis as unknown as { yellowAnchorDatabase: unknown }).yellowAnchorDatabase =
    Promise.resolve(w.database);
});

describe("the interface for programs", () => {
  test("without a token 401, without the right 403, without such a thing 404", async () => {
    token = "";
    expect((await call("GET", "/companies")).status).toBe(401);
    expect((await call("POST", "/tokens", { user: "accountant", password: "wrong" })).status).toBe(
      401,
    );
    await signIn("payables");
    expect((await call("POST", "/journals", journal())).status).toBe(403);
    expect((await call("GET", "/journals/ALP-26-99999")).status).toBe(404);
    expect((await call("GET", "/nothing")).status).toBe(404);
  });

  test("a journal is entered, found by id and number, in the trial balance and the statement, and reversed", async () => {
    await signIn("accountant");
    const made = await call("POST", "/journals", journal());
    expect(made).toMatchObject({
      status: 201,
      body: { status: "posted", number: expect.stringMatching(/^ALP-26-\d{5}$/) as string },
    });
    for (const key of [made.body.id, made.body.number])
      expect((await call("GET", `/journals/${String(key)}`)).body).toMatchObject({
        id: made.body.id,
        period: "2026-10",
        lines: [
          { account: "6310", dimensions: { costCentre: "HARB" }, debit: "1250.50", credit: null },
          { account: "2410", credit: "1250.50" },
        ],
      });
    const balance = await call("GET", "/trial-balance?company=ALP&period=2026-10");
    expect(
      (balance.body.rows as { account: string }[]).find((r) => r.account === "2410"),
    ).toMatchObject({ opening: "0.00", debit: "0.00", credit: "1250.50", closing: "-1250.50" });
    const income = await call("GET", "/statements/income-statement?company=ALP&period=2026-10");
    expect(
      (income.body.lines as { code: string; values: string[] }[]).find(
        (l) => l.code === "quay-maintenance",
      )!.values[0],
    ).toBe("-1250.50");
    const reversed = await call("POST", `/journals/${String(made.body.number)}/reverse`, {});
    expect(reversed).toMatchObject({ status: 201, body: { date: "2026-10-07" } });
    expect(
      (await call("POST", `/journals/${String(made.body.number)}/reverse`)).body,
    ).toMatchObject({ problems: [{ code: "ALREADY_REVERSED" }] });
  });

  test("a draft has no number until it is posted; problems come with line, field, code and sentence", async () => {
    const draft = await call("POST", "/journals", journal({ post: false }));
    expect(draft.body).toMatchObject({ number: null, status: "draft" });
    expect((await call("POST", `/journals/${String(draft.body.id)}/post`)).body).toMatchObject({
      status: "posted",
    });
    const other = await call("POST", "/journals", journal({ post: false }));
    const at = `/journals/${String(other.body.id)}`;
    const { version } = (await call("GET", at)).body as { version: number };
    // Nobody asks for its approval; and what was not read is not deleted.
    expect((await call("POST", `${at}/submit`)).status).toBe(422);
    expect((await call("POST", `${at}/delete`, { version: version - 1 })).body).toMatchObject({
      problems: [{ code: "STALE" }],
    });
    expect((await call("POST", `${at}/delete`, { version })).status).toBe(200);
    expect((await call("GET", at)).status).toBe(404);
    const bad = await call(
      "POST",
      "/journals",
      journal({
        currency: "ISK",
        lines: [
          { account: "9999", debit: "1.005" },
          { account: "2140", credit: "1" },
        ],
      }),
    );
    expect(bad.status).toBe(422);
    expect(bad.body.problems).toEqual(
      expect.arrayContaining([
        {
          line: 1,
          field: "account",
          code: "ACCOUNT_UNKNOWN",
          message: "There is no account 9999.",
        },
        expect.objectContaining({ line: 1, field: "debit", code: "AMOUNT_DECIMALS" }),
        expect.objectContaining({ line: 2, field: "partner", code: "PARTNER_REQUIRED" }),
        expect.objectContaining({ line: null, field: "rate", code: "RATE_MISSING" }),
      ]),
    );
    expect((await call("POST", "/journals", "{not json")).status).toBe(400);
    expect((await call("POST", "/journals", { company: "ALP" })).status).toBe(422);
  });

  test("an Idempotency-Key makes a repeat harmless, also when both come at once; another request with it is refused", async () => {
    const key = { "idempotency-key": "october-7" };
    const answers = await Promise.all(
      [1, 2, 3].map(() => call("POST", "/journals", journal({ description: "Once" }), key)),
    );
    expect(new Set(answers.map((a) => a.body.number)).size).toBe(1);
    const list = await call("GET", "/journals?company=ALP&text=once");
    expect(list.body.items).toHaveLength(1);
    expect(await call("POST", "/journals", journal({ description: "Other" }), key)).toMatchObject({
      status: 409,
      body: { problems: [{ code: "IDEMPOTENCY_REUSED" }] },
    });
  });

  test("reports come as CSV, XLSX and PDF; the document of the interface names every address", async () => {
    for (const [path, type] of [
      ["/trial-balance?company=ALP&period=2026-10&format=csv", "text/csv"],
      ["/trial-balance?company=ALP&period=2026-10&format=xlsx", "spreadsheetml"],
      ["/statements/balance-sheet?company=ALP&period=2026-10&format=pdf", "application/pdf"],
    ] as const) {
      const file = await call("GET", path);
      expect([path, file.status, file.headers.get("content-type")]).toEqual([
        path,
        200,
        expect.stringContaining(type),
      ]);
    }
    const document = await call("GET", "/openapi.json");
    expect(document.body.openapi).toBe("3.1.0");
    expect(Object.keys(document.body.paths as object)).toEqual(
      expect.arrayContaining([
        "/tokens",
        "/companies",
        "/accounts",
        "/periods",
        "/journal-types",
        "/journals",
        "/journals/{key}",
        "/journals/{key}/reverse",
        "/trial-balance",
        "/statements/{code}",
      ]),
    );
  });

  test("a file of journals is checked without being stored, then posted; its faults come by row of the file; corrected and sent again, what was posted is left and named", async () => {
    await signIn("accountant");
    const csv =
      "Journal,Account,Cost centre,Debit,Credit\nA,6310,HARB,100.00,\nA,2410,,,100.00\nB,6310,,5.00,\nB,2410,,,4.00\n,,,,\n";
    const send = (mode: string, more = "", content = csv) =>
      call(
        "POST",
        `/journals/import?company=ALP&mode=${mode}&date=2026-10-07&description=Cards${more}`,
        content,
        { "content-type": "text/csv" },
      );
    const before = (await call("GET", "/journals?company=ALP&text=cards")).body.items as unknown[];
    const checked = await send("check");
    expect(checked.body).toMatchObject({
      aside: [],
      journals: [
        { key: "A", status: "checked", debits: "100.00", problems: [] },
        {
          key: "B",
          status: "checked",
          problems: [
            expect.objectContaining({ code: "UNBALANCED" }),
            expect.objectContaining({ row: 4, field: "costCentre", code: "DIMENSION_REQUIRED" }),
          ],
        },
      ],
    });
    expect((await call("GET", "/journals?company=ALP&text=cards")).body.items).toEqual(before);
    const posted = await send("post");
    expect(posted.body).toMatchObject({
      journals: [
        { status: "posted", number: expect.stringMatching(/^ALP-26-/) as string },
        { status: "left", id: null },
      ],
    });
    // Corrected, and a figure of the good journal written otherwise.
    const corrected = csv
      .replace("100.00,\n", "100,\n")
      .replace("B,6310,,5.00", "B,6310,HARB,4.00");
    expect((await send("check", "", corrected)).body).toMatchObject({
      journals: [{ key: "A", before: { number: expect.any(String) as string } }, { before: null }],
    });
    expect((await send("post", "", corrected)).body).toMatchObject({
      journals: [
        { key: "A", status: "left", problems: [{ code: "LOADED_BEFORE" }] },
        { key: "B", status: "posted", problems: [] },
      ],
    });
    expect((await send("draft", "", corrected)).body).toMatchObject({
      journals: [{ status: "left" }, { status: "left" }],
    });
    expect((await send("post", "&confirmed=true", corrected)).body).toMatchObject({
      journals: [{ status: "posted" }, { status: "posted" }],
    });
    // Two people at once with the same file: it comes in once.
    const other = csv.replaceAll("100.00", "77.00");
    const both = await Promise.all([send("post", "", other), send("post", "", other)]);
    expect(both.map((r) => (r.body.journals as { status: string }[])[0]!.status).sort()).toEqual([
      "left",
      "posted",
    ]);
    expect((await call("POST", "/journals/import?company=ALP", "a,b\n1,2\n")).body).toMatchObject({
      problems: [{ code: "INVALID" }],
    });
  });

  test("journals in a foreign currency and of several companies; what one currency is worth in another; an account's activity", async () => {
    await signIn("controller");
    expect(
      (
        await call("POST", "/rates", {
          rates: [
            { base: "EUR", quote: "GBP", date: "2026-10-01", rate: "0.87" },
            { base: "EUR", quote: "ISK", date: "2026-10-01", rate: "150" },
          ],
        })
      ).body,
    ).toEqual({ added: 2, changed: 0, same: 0 });
    expect((await call("GET", "/rates?from=GBP&to=ISK&date=2026-10-07")).body).toMatchObject({
      rate: "172.413793103",
    });
    const made = await call(
      "POST",
      "/journals",
      journal({
        currency: "ISK",
        lines: [
          { account: "6310", dimensions: { costCentre: "HARB" }, debit: "15000" },
          { account: "2410", credit: "15000" },
        ],
      }),
    );
    expect(made.status).toBe(201);
    expect(
      (
        await call(
          "POST",
          "/journals",
          journal({
            lines: [
              {
                account: "6310",
                dimensions: { costCentre: "HARB" },
                company: "BET",
                debit: "1.00",
              },
              { account: "2410", credit: "1.00" },
            ],
          }),
        )
      ).body,
    ).toMatchObject({ problems: [{ code: "PAIR_MISSING", line: 1 }] });
    const activity = (await call("GET", "/accounts/6310/activity?company=ALP&period=2026-10"))
      .body as { lines: { number: string; debit: string }[] };
    expect(activity.lines.find((l) => l.number === made.body.number)!.debit).toBe("100.00");
  });

  test("a supplier, what stands open with it, its ageing, and settling; the list of journals by account and amount", async () => {
    await signIn("controller");
    expect(
      (
        await call("POST", "/partners", {
          code: "S-70",
          name: "Orlow Engine Works",
          supplier: true,
          country: "DE",
          taxNumber: "DE1",
        })
      ).body,
    ).toMatchObject({ problems: [{ field: "taxNumber", code: "INVALID" }] });
    expect(
      (
        await call("POST", "/partners", {
          code: "S-70",
          name: "Orlow Engine Works",
          supplier: true,
          country: "DE",
        })
      ).status,
    ).toBe(201);
    const entry = (description: string, side: "debit" | "credit") =>
      call("POST", "/journals", {
        company: "ALP",
        type: "general",
        date: "2026-10-05",
        description,
        reference: description,
        post: true,
        lines: [
          { account: "2140", [side]: "75.10", partner: "S-70", dueDate: "2026-10-20" },
          { account: "2440", [side === "debit" ? "credit" : "debit"]: "75.10" },
        ],
      });
    await entry("Owed", "credit");
    await entry("Refund", "debit");
    const query = "company=ALP&area=payables&on=2026-10-31";
    const items = (await call("GET", `/open-items?${query}&partner=S-70`)).body.items as {
      id: number;
      left: string;
    }[];
    expect(items.map((i) => i.left)).toEqual(["-75.10", "75.10"]);
    expect((await call("GET", `/ageing?${query}`)).body).toMatchObject({ agrees: true });
    expect(
      (
        await call("POST", "/open-items/settle", {
          date: "2026-10-31",
          pairs: [{ first: String(items[0]!.id), second: String(items[1]!.id) }],
        })
      ).status,
    ).toBe(201);
    expect((await call("GET", `/open-items?${query}&partner=S-70`)).body.items).toEqual([]);
    expect(
      (
        (await call("GET", "/journals?company=ALP&account=2440&amountFrom=75.10&amountTo=75.10"))
          .body.items as unknown[]
      ).length,
    ).toBe(2);
  });

  test("an invoice is entered, refused with its problems, posted, found, and cancelled", async () => {
    await signIn("controller");
    must(
      await saveTaxCode(await callerOf(w.database, "root"), {
        code: "S",
        name: "Standard",
        kind: "standard",
        account: "1410",
        rates: [{ from: "2020-01-01", percent: "23" }],
      }),
    );
    const invoice = (more: object) => ({
      company: "ALP",
      supplier: "PEL",
      number: "API-1",
      date: "2026-10-05",
      lines: [{ account: "6310", dimensions: { costCentre: "HARB" }, net: "100.00", taxCode: "S" }],
      post: true,
      ...more,
    });
    expect((await call("POST", "/invoices", invoice({ supplier: "nobody" }))).body).toMatchObject({
      problems: [{ field: "supplier", code: "PARTNER_UNKNOWN" }],
    });
    const made = await call("POST", "/invoices", invoice({}), { "idempotency-key": "inv-1" });
    expect(made).toMatchObject({
      status: 201,
      body: { status: "posted", number: expect.stringMatching(/^ALP-26-P/) as string },
    });
    // The same request again is answered as the first time; another with the same paper is refused.
    expect(
      (await call("POST", "/invoices", invoice({}), { "idempotency-key": "inv-1" })).body,
    ).toMatchObject({ id: made.body.id, number: made.body.number });
    expect((await call("POST", "/invoices", invoice({}))).body).toMatchObject({
      problems: [{ code: "INVOICE_DOUBLE" }],
    });
    expect((await call("GET", "/invoices?company=ALP&text=api-1")).body.items).toMatchObject([
      { amount: "123.00", left: "123.00", functional: "123.00", status: "posted" },
    ]);
    expect((await call("GET", `/invoices/${String(made.body.id)}`)).body).toMatchObject({
      gross: "123.00",
      taxes: [{ code: "S", base: "100.00", tax: "23.00" }],
      instalments: [{ due: "2026-11-04", left: "123.00" }],
    });
    const month = "company=ALP&from=2026-10-01&to=2026-10-31";
    expect((await call("GET", `/tax-summary?${month}`)).body).toMatchObject({
      currency: "EUR",
      rows: [{ code: "S", base: "100.00", tax: "23.00", recoverable: "23.00" }],
    });
    expect(
      (await call("POST", `/invoices/${String(made.body.id)}/cancel`, { reason: "entered twice" }))
        .status,
    ).toBe(201);
    // Posting a draft, asked for twice with one key, is answered twice in the same way.
    const draft = await call("POST", "/invoices", invoice({ number: "API-2", post: false }));
    const post = () =>
      call("POST", `/invoices/${String(draft.body.id)}/post`, undefined, {
        "idempotency-key": "post-2",
      });
    const first = await post();
    expect(first).toMatchObject({ status: 200, body: { status: "posted" } });
    expect((await post()).body).toEqual(first.body);
    expect((await call("POST", `/invoices/${String(draft.body.id)}/post`)).body).toMatchObject({
      problems: [{ code: "ALREADY_POSTED" }],
    });
  });

  test("an order is placed once, received, billed and paid by a run with its file", async () => {
    await signIn("controller");
    const order = {
      company: "ALP",
      supplier: "PEL",
      date: "2026-10-06",
      currency: "EUR",
      description: "Filters",
      lines: [
        {
          account: "6310",
          dimensions: { costCentre: "HARB" },
          description: "Filter",
          quantity: "4",
          price: "12.50",
          taxCode: "S",
        },
      ],
    };
    expect((await call("POST", "/orders", { ...order, lines: [] })).body).toMatchObject({
      problems: [{ field: "lines", code: "REQUIRED" }],
    });
    const placed = await call("POST", "/orders", order, { "idempotency-key": "ord-1" });
    expect(placed).toMatchObject({ status: 201, body: { number: "ALP-26-O00001" } });
    expect((await call("POST", "/orders", order, { "idempotency-key": "ord-1" })).body.number).toBe(
      "ALP-26-O00001",
    );
    const id = String(placed.body.id);
    expect(
      (
        await call("POST", `/orders/${id}/receipts`, {
          date: "2026-10-07",
          lines: [{ no: "1", quantity: "4" }],
        })
      ).body,
    ).toMatchObject({ number: "ALP-26-G00001" });
    expect(
      (await call("GET", "/received-not-invoiced?company=ALP&on=2026-10-31")).body,
    ).toMatchObject({ total: "50.00", control: "50.00", agrees: true });
    expect(
      (
        await call("POST", "/invoices", {
          company: "ALP",
          supplier: "PEL",
          number: "API-9",
          date: "2026-09-01",
          postingDate: "2026-10-08",
          currency: "EUR",
          lines: [{ order: "ALP-26-O00001/1", quantity: "4", net: "50.00", taxCode: "S" }],
          post: true,
        })
      ).status,
    ).toBe(201);
    expect((await call("GET", `/orders/${id}`)).body).toMatchObject({
      lines: [
        {
          quantity: "4.000",
          received: "4.000",
          invoiced: "4.000",
          deliveries: [{ quantity: "4.000" }],
        },
      ],
    });
    const root = await callerOf(w.database, "root");
    must(
      await saveBankAccount(root, {
        ...BANK_OF_ALPHA,
        iban: "DE02500105170137075030",
        overdraft: "9,000.00",
      }),
    );
    must(
      await decidePartnerBank(await callerOf(w.database, "controller"), {
        id: must(await addPartnerBank(root, { partner: "PEL", iban: "DE75512108001245126199" })).id,
        to: "confirmed",
      }),
    );
    const run = await call("POST", "/payment-runs", {
      company: "ALP",
      bank: "MAIN",
      date: "2026-10-15",
      next: "2026-10-22",
    });
    expect(run.status).toBe(201);
    expect((await call("GET", `/runs/${String(run.body.id)}`)).body).toMatchObject({
      number: run.body.number,
      status: "preview",
      kindName: expect.stringMatching(/payment/i) as string,
    });
    expect(JSON.stringify((await call("GET", `/runs/${String(run.body.number)}`)).body)).toContain(
      '"61.50"',
    );
    expect((await call("POST", `/payment-runs/${String(run.body.id)}/post`)).status).toBe(201);
    const file = await call("POST", `/payment-runs/${String(run.body.id)}/file`);
    expect(faultsOfTransferFile(String(file.body.content))).toEqual([]);
    expect((await call("POST", `/payment-runs/${String(run.body.id)}/file`)).body.content).toBe(
      file.body.content,
    );
    expect((await call("GET", "/payments?company=ALP")).body.items).toMatchObject([
      { amount: "61.50", status: "sent" },
    ]);
  });
});

describe("what a stranger can make the machine do", () => {
  test("a body that does not end is cut off while it arrives, whatever it said of its length", async () => {
    token = "";
    let sent = 0;
    const endless = new ReadableStream<Uint8Array>({
      pull(controller) {
        sent += 1024;
        controller.enqueue(new Uint8Array(1024).fill(32));
      },
    });
    const request = new Request("http://127.0.0.1/api/v1/tokens", {
      method: "POST",
      body: endless,
      duplex: "half",
    } as RequestInit);
    const response = await POST(request, { params: Promise.resolve({ path: ["tokens"] }) });
    expect([response.status, sent < 64 * 1024]).toEqual([413, true]);
  });
  test("rights are asked before the shape; answers are kept by nobody; long keys are refused, not cut", async () => {
    await signIn("accountant");
    expect((await call("POST", "/books", { nonsense: true })).status).toBe(403);
    const listed = await call("GET", "/companies");
    expect([listed.status, listed.headers.get("cache-control")]).toEqual([200, "no-store"]);
    const key = "k".repeat(201);
    const long = await call("POST", "/journals", journal(), { "Idempotency-Key": key });
    expect(long.status).toBe(400);
  });
});
