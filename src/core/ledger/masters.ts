import type { TypedRates } from "../rates";
import type { Book, Company } from "../organisation";
import type {
  Account,
  AccountPurpose,
  CompanyPair,
  Dimension,
  DimensionValue,
  Heading,
  JournalType,
} from "./types";

/** The master data that postings and reports rest on, with the look-ups that both need. */
export class Masters {
  /** Those that take postings. */
  readonly books: readonly Book[];
  readonly companyByCode: ReadonlyMap<string, Company>;
  readonly companyById: ReadonlyMap<number, Company>;
  readonly bookByCode: ReadonlyMap<string, Book>;
  readonly bookById: ReadonlyMap<number, Book>;
  readonly mainBook: Book | undefined;
  readonly accountByNumber: ReadonlyMap<string, Account>;
  readonly accountById: ReadonlyMap<number, Account>;
  readonly headingById: ReadonlyMap<number, Heading>;
  readonly typeByCode: ReadonlyMap<string, JournalType>;
  readonly typeById: ReadonlyMap<number, JournalType>;
  readonly dimensionByCode: ReadonlyMap<string, Dimension>;
  readonly dimensionById: ReadonlyMap<number, Dimension>;
  readonly valueById: ReadonlyMap<number, DimensionValue>;
  private readonly values: ReadonlyMap<string, DimensionValue>;

  constructor(
    readonly companies: readonly Company[],
    /** All of them, ended ones too. */
    readonly allBooks: readonly Book[],
    readonly accounts: readonly Account[],
    readonly headings: readonly Heading[],
    readonly types: readonly JournalType[],
    readonly dimensions: readonly Dimension[],
    readonly dimensionValues: readonly DimensionValue[],
    readonly pairs: readonly CompanyPair[] = [],
    readonly purposes: Readonly<Partial<Record<AccountPurpose, string>>> = {},
    /** Whether a rate that is typed does where none is listed that is young enough. */
    readonly typedRates: TypedRates = "taken",
  ) {
    this.companyByCode = by(companies, (c) => c.code);
    this.companyById = by(companies, (c) => c.id);
    this.books = allBooks.filter((b) => !b.ended);
    this.bookByCode = by(allBooks, (b) => b.code);
    this.bookById = by(allBooks, (b) => b.id);
    this.mainBook = allBooks.find((b) => b.main);
    this.accountByNumber = by(accounts, (a) => a.number);
    this.accountById = by(accounts, (a) => a.id);
    this.headingById = by(headings, (h) => h.id);
    this.typeByCode = by(types, (t) => t.code);
    this.typeById = by(types, (t) => t.id);
    this.dimensionByCode = by(dimensions, (d) => d.code);
    this.dimensionById = by(dimensions, (d) => d.id);
    this.valueById = by(dimensionValues, (v) => v.id);
    this.values = by(dimensionValues, (v) => `${v.dimensionId}|${v.code}`);
  }

  value(dimensionId: number, code: string): DimensionValue | undefined {
    return this.values.get(`${dimensionId}|${code}`);
  }

  /**
   * How two companies trade with each other, seen from the first one named; undefined where that is
   * not set up.
   */
  pair(
    company: string,
    other: string,
  ):
    | { dueFrom: string; dueTo: string; otherDueFrom: string; otherDueTo: string; type: string }
    | undefined {
    for (const p of this.pairs) {
      if (p.first === company && p.second === other)
        return {
          dueFrom: p.firstDueFrom,
          dueTo: p.firstDueTo,
          otherDueFrom: p.secondDueFrom,
          otherDueTo: p.secondDueTo,
          type: p.type,
        };
      if (p.first === other && p.second === company)
        return {
          dueFrom: p.secondDueFrom,
          dueTo: p.secondDueTo,
          otherDueFrom: p.firstDueFrom,
          otherDueTo: p.firstDueTo,
          type: p.type,
        };
    }
    return undefined;
  }

  /** A value and everything below it in its tree. */
  branch(valueId: number): number[] {
    const found = [valueId];
    for (let i = 0; i < found.length; i++)
      for (const v of this.dimensionValues) if (v.parentId === found[i]) found.push(v.id);
    return found;
  }
}

const by = <T, K>(items: readonly T[], key: (item: T) => K): ReadonlyMap<K, T> =>
  new Map(items.map((item) => [key(item), item]));
