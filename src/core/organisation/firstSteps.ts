/** What an installation has of all that it needs to begin; counts. */
export interface Begun {
  companies: number;
  /** Companies without a fiscal year. */
  withoutYear: number;
  books: number;
  accounts: number;
  values: number;
  people: number;
  openings: number;
  journals: number;
}

export interface FirstStep {
  name: string;
  /** What to do there, and what follows. */
  says: string;
  page: string;
  done: boolean;
  /** One can begin without it. */
  optional?: boolean;
}

/** The steps from an empty installation to the first journal, in their order. */
export const firstSteps = (b: Begun): FirstStep[] => [
  {
    name: "Companies",
    says: "Every company that keeps books here, with its functional currency and address.",
    page: "/setup/companies",
    done: b.companies > 0,
  },
  {
    name: "Books",
    says: "Other accounting bases beside the main one, where there are some.",
    page: "/setup/books",
    done: b.books > 1,
    optional: true,
  },
  {
    name: "Years and periods",
    says: "A fiscal year for each company; open the period in which you begin.",
    page: "/setup/periods",
    done: b.companies > 0 && b.withoutYear === 0,
  },
  {
    name: "Chart of accounts",
    says: "From a file, or the starter chart: then default accounts and statement outlines.",
    page: "/setup/accounts",
    done: b.accounts > 0,
  },
  {
    name: "Dimensions",
    says: "Cost centres and projects that lines are coded with.",
    page: "/setup/dimensions",
    done: b.values > 0,
    optional: true,
  },
  {
    name: "People and rights",
    says: "Whoever works here, and what each may do. Whoever enters does not approve.",
    page: "/setup/people",
    done: b.people > 1,
  },
  {
    name: "Opening balances",
    says: "Balances and open items of the day before you begin, loaded from a spreadsheet.",
    page: "/setup/opening",
    done: b.openings > 0,
    optional: true,
  },
  {
    name: "First journal",
    says: "Press n anywhere, or load journals from a spreadsheet.",
    page: "/ledger/journals/new",
    done: b.journals > b.openings,
  },
];

/** Whether everything that one cannot begin without is done. */
export const hasBegun = (steps: readonly FirstStep[]): boolean =>
  steps.every((s) => s.done || s.optional === true);
