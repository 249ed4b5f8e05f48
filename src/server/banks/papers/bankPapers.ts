import { sql } from "drizzle-orm";
import { number, object, string } from "yup";
import {
  chequeLine,
  PAPER_KINDS,
  PAPER_NAMES,
  paperLayoutSchema,
  paperWords,
  problemsOfLayout,
  usualLayout,
  type PaperKind,
  type PaperLayout,
} from "@/core/banks";
import { fail, minor, ok, type Result } from "@/core/shared";
import { defineUseCase, type Context } from "../../access";
import { rows, type Db } from "../../db";
import { isDrawable, readLayout } from "../../letters";
import { readBankAccount, type BankAccount } from "../bankAccounts";
import { drawPapers, type PaperPictures } from "./drawPapers";

/** The layout of a kind of paper of a bank account. */
export interface BankPaper {
  code: string;
  kind: PaperKind;
  layout: PaperLayout;
  /** 0 while it is the usual one. */
  version: number;
}

const ofAccount = object({
  code: string().required(),
  kind: string().oneOf(PAPER_KINDS).required(),
});

/** How papers of an account look: as it was set up, or as usual. */
export async function readBankPaper(
  tx: Db,
  account: Pick<BankAccount, "id" | "code">,
  kind: PaperKind,
): Promise<BankPaper> {
  const [found] = await rows<{ layout: PaperLayout; version: number }>(
    tx,
    sql`select layout, version from bank_paper
      where bank_account_id = ${account.id} and kind = ${kind}`,
  );
  return {
    code: account.code,
    kind,
    // What was kept before something was added to layouts lacks that.
    layout: found ? paperLayoutSchema.cast(found.layout) : usualLayout(kind),
    version: found?.version ?? 0,
  };
}

/** The pictures on an account's papers, as far as they can be drawn. */
export async function picturesOf(
  tx: Db,
  account: { id: number; companyId: number; company: string },
): Promise<PaperPictures> {
  const [found] = await rows<{ signature: string }>(
    tx,
    sql`select signature from bank_account where id = ${account.id}`,
  );
  const { logo } = await readLayout(tx, { id: account.companyId, code: account.company });
  const drawn = async (base64: string) =>
    base64 !== "" && (await isDrawable(base64)) ? Buffer.from(base64, "base64") : null;
  return { signature: await drawn(found?.signature ?? ""), logo: await drawn(logo) };
}

async function accountOf(
  { tx, may }: Context,
  code: string,
  rights: readonly ("read.setup" | "read.banks" | "setup.rules")[],
): Promise<Result<BankAccount>> {
  const account = await readBankAccount(tx, { code });
  if (!account) return fail({ code: "NOT_FOUND", what: `bank account ${code}` });
  return rights.some((r) => may(r, account.company))
    ? ok(account)
    : fail({ code: "FORBIDDEN", what: `set up cheques of ${account.companyName}` });
}

const READ = ["read.setup", "read.banks"] as const;

/** How a kind of paper of a bank account looks. */
export const getBankPaper = defineUseCase({
  name: "getBankPaper",
  kind: "read",
  rights: READ,
  what: "see how cheques look",
  of: "checked",
  schema: ofAccount,
  run: async (context, input): Promise<Result<BankPaper>> => {
    const account = await accountOf(context, input.code, READ);
    return account.ok ? ok(await readBankPaper(context.tx, account.value, input.kind)) : account;
  },
});

/** Sets up how a kind of paper of a bank account looks, and where its numbers come from. */
export const saveBankPaper = defineUseCase({
  name: "saveBankPaper",
  kind: "write",
  rights: ["setup.rules"],
  what: "change how cheques look",
  of: "checked",
  schema: ofAccount.shape({
    layout: paperLayoutSchema.required(),
    version: number().integer().required(),
  }),
  run: async (context, input): Promise<Result<{ version: number }>> => {
    const { tx, audit } = context;
    const account = await accountOf(context, input.code, ["setup.rules"]);
    if (!account.ok) return account;
    const problems = problemsOfLayout(input.kind, input.layout);
    if (problems.length > 0)
      return fail(
        ...problems.map((p) => ({
          code: "INVALID" as const,
          what: p.what,
          field: `layout.${p.field}`,
        })),
      );
    const before = await readBankPaper(tx, account.value, input.kind);
    const [saved] = await rows<{ version: number }>(
      tx,
      input.version === 0
        ? sql`insert into bank_paper (bank_account_id, kind, layout)
            values (${account.value.id}, ${input.kind}, ${JSON.stringify(input.layout)}::jsonb)
            on conflict do nothing returning version`
        : sql`update bank_paper
            set layout = ${JSON.stringify(input.layout)}::jsonb, version = version + 1
            where bank_account_id = ${account.value.id} and kind = ${input.kind}
              and version = ${input.version} returning version`,
    );
    if (!saved) return fail({ code: "STALE", by: "Somebody else", at: "" });
    await audit({
      action: "layout changed",
      kind: "bank account",
      recordId: account.value.id,
      label: `${account.value.code}, ${PAPER_NAMES[input.kind].toLowerCase()}`,
      companyId: account.value.companyId,
      before: before.layout,
      after: input.layout,
    });
    return ok({ version: saved.version });
  },
});

/** A paper of an account as it would come out, with made-up words, marked as a sample. */
export const samplePaper = defineUseCase({
  name: "samplePaper",
  kind: "read",
  rights: READ,
  what: "see how cheques look",
  of: "checked",
  schema: ofAccount,
  run: async (context, input): Promise<Result<{ content: Uint8Array }>> => {
    const found = await accountOf(context, input.code, READ);
    if (!found.ok) return found;
    const account = found.value;
    const { layout } = await readBankPaper(context.tx, account, input.kind);
    const pictures = await picturesOf(context.tx, account);
    const amount = minor(123_456n);
    const drawn = await drawPapers(
      `Sample: ${PAPER_NAMES[input.kind].toLowerCase()}`,
      input.kind,
      // Nothing that looks signed leaves the house as a sample.
      { ...layout, copyMark: "SAMPLE", copyMagnetic: true, copySignature: "struck out" },
      pictures,
      [
        {
          name: "the sample",
          words: paperWords({
            kind: input.kind,
            company: account.companyName,
            bankName: account.bankName,
            number: "0",
            place: "Ostry",
            date: context.today,
            dueDate: context.today,
            payee:
              input.kind === "bill" ? account.companyName : "Sample Chandlers, 12 Example Wharf",
            drawee: "Sample Chandlers\n12 Example Wharf\n2000 Merrowmouth",
            payableAt: account.bankName,
            purpose: "Invoice 4711",
            amount,
            currency: account.currency,
          }),
          magnetic: chequeLine(0, account.chequeSort, account.chequeAccount),
          copy: true,
          void: false,
          list: {
            title: "Sample",
            currency: account.currency,
            items: [{ reference: "4711", settled: 130_000n, discount: 6_544n, paid: amount }],
            total: amount,
          },
        },
      ],
    );
    return drawn.ok ? ok({ content: drawn.value }) : drawn;
  },
});
