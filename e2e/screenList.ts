/** The main screens of a company, by a name that does not depend on the company. What needs a certain journal or run is there where that is named. */
export function screens(company: string, of: { account: string; journal?: string; run?: string }): { name: string; where: string }[] {
  const place = `company=${company}&book=IFRS&period=2026-10`;
  const list: [name: string, path: string | null][] = [
    ["today", "/today?"], ["trial balance", "/ledger/trial-balance?"], ["trial balance, companies", "/ledger/trial-balance?beside=1&"], ["account view", `/ledger/accounts/${of.account}?`], ["journals", "/ledger/journals?"], ["journal entry", "/ledger/journals/new?"],
    ["posted journal", of.journal ? `/ledger/journals/${of.journal}?` : null], ["what changed", "/ledger/changes?since=2026-11-01T00:00&"], ["payables", "/payables?"], ["receivables", "/receivables?"], ["banks", "/banks?"], ["assets", "/assets?"],
    ["income statement", "/statements/income-statement?"], ["balance sheet", "/statements/balance-sheet?"], ["income statement, months", "/statements/income-statement?layout=months&"], ["close board", "/close?"], ["runs", "/close/runs?"], ["run", of.run ? `/close/runs/${of.run}?` : null], ["year end", "/close/year-end?"],
    ["setup", "/setup?"], ["periods", "/setup/periods?"], ["companies", "/setup/companies?"], ["accounts", "/setup/accounts?"], ["dimensions", "/setup/dimensions?"], ["outlines", "/setup/outlines?"], ["rates", "/setup/rates?"], ["journal types", "/setup/types?"], ["approval", "/setup/approval?"], ["due reversals", "/ledger/reversals?"], ["batches", "/ledger/batches?"], ["shortcuts", "/ledger/shortcuts?"], ["load journals", "/ledger/load?"], ["partners in trade", "/setup/pairs?"], ["between companies", "/ledger/pairs?"], ["people", "/setup/people?"], ["history", "/setup/history?"], ["opening balances", "/setup/opening?"],
  ];
  return list.flatMap(([name, path]) => (path ? [{ name, where: path + place }] : []));
}
