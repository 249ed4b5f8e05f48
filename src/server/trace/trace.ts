import { array, boolean, object, string } from "yup";
import { NO_CURRENCY } from "@/core/ledger";
import { amountOf, decodeTrace, encodeTrace, partsOf } from "@/core/trace";
import { fail, ok, type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { branchesOf, findPlace, placeSchema, visibleBranch } from "../ledger";
import { betweenStations } from "./betweenStations";
import { changesStation } from "./changesStation";
import { figureTree } from "./figureTree";
import { journalStations } from "./journalStations";
import { loadCells } from "./loadCells";
import type { Station, Trace } from "./station";
import { walk } from "./walk";

export const trace = defineUseCase({
  name: "trace",
  kind: "read",
  rights: ["read.ledger", "read.statements", "read.branch"],
  what: "take figures apart",
  company: (i) => i.company,
  schema: object({
    ...placeSchema,
    trace: string().required().max(1000),
    withClosing: boolean().default(false),
    values: array(string().required()).default([]),
  }),
  run: async (context, input): Promise<Result<Trace>> => {
    const address = decodeTrace(input.trace);
    if (!address) return fail({ code: "NOT_FOUND", what: "such figure" });
    const company =
      (address.ref.kind === "month" || address.ref.kind === "between"
        ? address.ref.company
        : undefined) ?? input.company;
    if (
      company !== input.company &&
      !context.may("read.ledger", company) &&
      !context.may("read.branch", company)
    )
      return fail({ code: "FORBIDDEN", what: `take figures of ${company} apart` });
    // A figure of one named period is the same whatever range the screen shows, over years too.
    const { ref } = address;
    const found = await findPlace(context, {
      ...input,
      company,
      ...(ref.kind === "month" ? { period: ref.period, from: undefined } : {}),
      ...(ref.kind === "journal" ? { from: undefined } : {}),
    });
    if (!found.ok) return found;
    const place = found.value;
    const asked = branchesOf(context.masters, input.values);
    if (!asked.ok) return asked;
    const own = visibleBranch(context, company);
    const values = own ? [...asked.value, own] : asked.value;
    const stations: Station[] = [];
    const path = [...address.path];
    if (address.ref.kind === "journal" && own)
      return fail({ code: "FORBIDDEN", what: "see whole journals" });
    if (address.ref.kind === "journal") {
      const journal = await journalStations(context, place, String(address.ref.id), null);
      return journal.ok
        ? ok({ currency: place.company.currency, stations: journal.value, trace: input.trace })
        : journal;
    }
    if (address.ref.kind === "between") {
      if (own) return fail({ code: "FORBIDDEN", what: "see whole journals" });
      const found = await betweenStations(context, place, address.ref, path);
      return found.ok
        ? ok({ currency: address.ref.currency, stations: found.value, trace: input.trace })
        : found;
    }
    const root = await figureTree(context, place, address.ref, input.withClosing);
    if (!root.ok) return root;
    const cells = await loadCells(
      context,
      place,
      [...new Set(partsOf(root.value).map((p) => p.accountId))],
      values,
    );
    stations.push({
      kind: "Figure",
      title: root.value.label,
      facts: [],
      rows: [],
      amount: amountOf(root.value, cells),
      more: 0,
    });
    if (place.asKnownSeq !== undefined)
      stations.push(await changesStation(context, place, root.value, stations[0]!.amount!, values));
    const walked = await walk(context, place, root.value, cells, path, values, stations);
    const counts =
      partsOf(root.value).every(
        (p) => context.masters.accountById.get(p.accountId)?.type === "units",
      ) && partsOf(root.value).length > 0;
    return walked.ok
      ? ok({
          currency: counts ? NO_CURRENCY : place.company.currency,
          stations,
          trace: encodeTrace({ ref: address.ref, path: walked.value }),
        })
      : walked;
  },
});
