import type { Proposal } from "@/core/runs";
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
