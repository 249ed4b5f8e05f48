import type { MatchPartner } from "./types";
import { nameKey } from "../../partners";
import { nameDiffers } from "./names";

export interface KnownName {
  partner: string;
  /** Letters in which the names differ. */
  differs: number;
}

/** Finds partners by their accounts and by their names, misspelt too. */
export interface KnownPartners {
  /** The partners to whom an account belongs: more than one where it is shared. */
  byAccount(account: string): readonly string[];
  /** The partners with that name, the nearest first; each text is looked up once. */
  byName(name: string): readonly KnownName[];
  nameOf(partner: string): string;
}

/** Names that are compared letter by letter, of those that share most trigrams. */
const COMPARED = 12;
/** Trigrams of a name that are asked, the rarest first: those that all names have say nothing. */
const ASKED = 14;

export function knownPartners(partners: readonly MatchPartner[]): KnownPartners {
  const accounts = new Map<string, string[]>();
  const trigrams = new Map<string, number[]>();
  const names = partners.map((p) => nameKey(p.name));
  const exact = new Map<string, string[]>();
  const found = new Map<string, readonly KnownName[]>();
  const nameOf = new Map(partners.map((p) => [p.code, p.name]));
  partners.forEach((p, i) => {
    for (const a of p.accounts) accounts.set(a, [...(accounts.get(a) ?? []), p.code]);
    exact.set(names[i]!, [...(exact.get(names[i]!) ?? []), p.code]);
    for (const t of trigramsOf(names[i]!)) {
      const at = trigrams.get(t);
      if (at) at.push(i);
      else trigrams.set(t, [i]);
    }
  });
  const votes = new Uint16Array(partners.length);
  const search = (name: string): readonly KnownName[] => {
    const same = exact.get(name);
    if (same) return same.map((partner) => ({ partner, differs: 0 }));
    const touched: number[] = [];
    const rarest = [...trigramsOf(name)]
      .map((t) => trigrams.get(t) ?? [])
      .sort((a, b) => a.length - b.length)
      .slice(0, ASKED);
    for (const of of rarest) for (const i of of) if (votes[i]!++ === 0) touched.push(i);
    const nearest = touched.sort((a, b) => votes[b]! - votes[a]! || a - b).slice(0, COMPARED);
    touched.forEach((i) => (votes[i] = 0));
    return nearest
      .flatMap((i) => {
        const differs = nameDiffers(name, names[i]!);
        return differs === null ? [] : [{ partner: partners[i]!.code, differs }];
      })
      .sort((a, b) => a.differs - b.differs);
  };
  return {
    byAccount: (account) => (account ? (accounts.get(account) ?? []) : []),
    byName: (text) => {
      const name = nameKey(text);
      if (name.length < 3) return [];
      const before = found.get(name);
      if (before) return before;
      const now = search(name);
      found.set(name, now);
      return now;
    },
    nameOf: (partner) => nameOf.get(partner) ?? partner,
  };
}

const trigramsOf = (name: string): Set<string> => {
  const padded = ` ${name} `;
  return new Set(Array.from({ length: padded.length - 2 }, (_, i) => padded.slice(i, i + 3)));
};
