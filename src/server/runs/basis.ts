import type { JournalDraft } from "@/core/ledger";
import type { Proposal, RunItem } from "@/core/runs";
import { encodeJson } from "@/core/shared";
import { sha256 } from "../db";

/**
 * What must still be so when it is posted. Items that are left out are not part of it: another run
 * may have paid them meanwhile.
 */
export const basisOf = (proposal: Proposal): string =>
  sha256(
    encodeJson({
      items: proposal.items.filter((i) => i.leftOut === undefined),
      drafts: proposal.drafts,
      ...(proposal.detail === undefined ? {} : { detail: proposal.detail }),
    }),
  );

/** The same of a part of a run that is computed in parts, and of the journals that come of all. */
export const basisOfPart = (items: readonly RunItem[]): string =>
  sha256(JSON.stringify(items.flatMap((i) => (i.leftOut === undefined ? [wordsOf(i)] : []))));
export const basisOfDrafts = (drafts: readonly JournalDraft[]): string =>
  sha256(encodeJson(drafts));

/** All that is said of an item, as texts: there may be very many items. */
const wordsOf = (item: RunItem): string[] => [
  item.key,
  item.label,
  item.group,
  String(item.amount),
  item.why,
  ...(item.asks ? [encodeJson(item.asks)] : []),
  ...(item.detail === undefined ? [] : [encodeJson(item.detail)]),
];
