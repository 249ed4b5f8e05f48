import { sql } from "drizzle-orm";
import {
  readShareGone,
  isAll,
  retire,
  type BookRef,
  type FiscalSpan,
  type Retired,
  type Share,
} from "@/core/assets";
import type { Masters } from "@/core/ledger";
import {
  dateText,
  fail,
  minor,
  ok,
  readAmount,
  type CalendarDate,
  type Found,
  type Minor,
  type Result,
} from "@/core/shared";
import type { Context } from "../../access";
import { arrayOf } from "../../db";
import { loadYears } from "../../organisation";
import { loadFacts, type AssetFacts } from "../depreciation/loadFacts";

/** What is asked to go: how much of an asset, and what was got for it. */
interface Asked {
  date: CalendarDate;
  assets: readonly { number: string; share: string; proceeds: string; account: string }[];
}

export interface Going {
  asset: AssetFacts;
  share: Share;
  shareText: string;
  proceeds: Minor;
  account: string;
  retired: Retired[];
}
type Company = { id: number; code: string; name: string; currency: string };

/** The assets that go, with what that does in each book; what is wrong at the place of each. */
export async function whatGoes(
  { tx, masters }: Context,
  company: Company,
  params: Asked,
): Promise<Result<Going[]>> {
  const years: FiscalSpan[] = (await loadYears(tx, [company.id])).map((y) => ({
    first: y.start,
    last: y.end,
  }));
  const books: BookRef[] = masters.books.map(({ id, code }) => ({ id, code }));
  const numbers = params.assets.map((a) => a.number);
  const facts = await loadFacts(
    tx,
    sql`a.document_id in (select d.id from document d join asset x on x.document_id = d.id
      where x.company_id = ${company.id} and d.status = 'active'
        and d.number = any(${arrayOf(numbers)}::text[]))`,
    { first: params.date, last: params.date },
  );
  const byNumber = new Map(facts.map((f) => [f.number, f]));
  const problems: Found[] = [];
  const going: Going[] = [];
  for (const said of params.assets) {
    const asset = byNumber.get(said.number);
    const share = readShareGone(said.share);
    const proceeds = said.proceeds === "" ? minor(0n) : amountIn(said.proceeds, company.currency);
    const before = problems.length;
    if (!asset)
      problems.push({
        code: "NOT_FOUND",
        what: `asset ${said.number.slice(0, 40)} of ${company.name} in use`,
        field: "number",
      });
    if (!share)
      problems.push({
        code: "INVALID",
        what: `“${said.share}” is no share that can go: write all, 1/2 or 40 %`,
        field: "share",
      });
    if (proceeds === null || proceeds < 0n)
      problems.push({
        code: "INVALID",
        what: `“${said.proceeds}” is no amount that was got for it`,
        field: "proceeds",
      });
    problems.push(...againstAccount(masters, said.account, proceeds ?? minor(0n)));
    if (asset && params.date < asset.history.inService)
      problems.push({
        code: "INVALID",
        what: `${asset.number} is in use from ${dateText(asset.history.inService)} on`,
        field: "date",
      });
    if (asset && (asset.accounts.gain === "" || asset.accounts.loss === ""))
      problems.push({
        code: "INVALID",
        what: `Its class ${asset.className} has no accounts of gain and loss on disposal`,
        field: "number",
      });
    if (problems.length > before || !asset || !share || proceeds === null) continue;
    const gone = { on: params.date, share, proceeds };
    going.push({
      asset,
      share,
      shareText: isAll(share) ? "all of it" : said.share,
      proceeds,
      account: said.account,
      retired: retire(asset.history, books, gone, years),
    });
  }
  const [first, ...others] = problems;
  return first ? fail(first, ...others) : ok(going);
}

function amountIn(text: string, currency: string): Minor | null {
  const read = readAmount(text, currency);
  return read.ok ? read.amount : null;
}

function againstAccount(masters: Masters, number: string, proceeds: Minor): Found[] {
  if (number === "")
    return proceeds === 0n
      ? []
      : [
          {
            code: "INVALID",
            what: "Say on which account the invoice has booked what was got for it",
            field: "account",
          },
        ];
  const account = masters.accountByNumber.get(number);
  if (!account) return [{ code: "ACCOUNT_UNKNOWN", account: number, field: "account" }];
  return account.control === null
    ? []
    : [{ code: "CONTROL_ACCOUNT", account: number, control: account.control, field: "account" }];
}
