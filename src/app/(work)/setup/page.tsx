import Link from "next/link";
import { placeQuery } from "@/core/organisation";
import { PAGES } from "@/ui/frame/pages";
import { Page } from "@/ui/Page";
import { frameData, readAddress, type SearchParams } from "@/app/lib/place";

export const metadata = { title: "Setup" };

const WHAT: Record<string, string> = {
  "/setup/companies": "Companies of the group, their functional currencies",
  "/setup/books": "Accounting bases, and when one ends",
  "/setup/periods": "Fiscal years, periods and their state in each area",
  "/setup/accounts": "Accounts, headings, control kinds, dimension rules",
  "/setup/opening": "What the books start with, from a file",
  "/setup/types": "What each type of journal proposes, and how it is reversed",
  "/setup/approval": "When a journal needs a second person, and whose",
  "/setup/payables": "Discounts between companies, and how much may be written off",
  "/setup/banks": "The group's own bank accounts: limits, cheques, signatures",
  "/setup/rates": "What currencies are worth in each other, by kind and date",
  "/setup/pairs": "Companies that trade with each other",
  "/setup/posting": "The accounts that the system posts to by itself",
  "/setup/taxes": "How taxes on purchases and sales are computed, posted and declared",
  "/setup/outlines": "Lines of the statements: the accounts of each, and the totals",
  "/setup/dimensions": "Cost centres, projects and other dimensions, as trees",
  "/setup/people": "Who may sign in, and what each may do",
  "/setup/backups": "Copies of the whole books, verified when they are made",
  "/setup/history": "Who did what and when, before and after",
};

export default async function SetupPage({ searchParams }: { searchParams: SearchParams }) {
  const { place } = await readAddress(searchParams);
  const { person } = await frameData();
  const pages = PAGES.filter(
    (p) => p.href in WHAT && p.rights.some((r) => person.rights.includes(r)),
  );
  return (
    <Page title="Setup">
      <ul className="panel max-w-3xl divide-y divide-line-2">
        {pages.map((p) => (
          <li key={p.href}>
            <Link
              href={`${p.href}?${placeQuery(place)}`}
              className="flex items-baseline gap-4 px-4 py-2.5 hover:bg-shade"
            >
              <b className="w-44 font-semibold text-sea">{p.name}</b>
              <span className="text-ink-2">{WHAT[p.href]}</span>
            </Link>
          </li>
        ))}
      </ul>
    </Page>
  );
}
