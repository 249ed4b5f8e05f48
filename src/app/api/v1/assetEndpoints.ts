import { string } from "yup";
import { decimalText } from "@/core/shared";
import {
  assetSchedule,
  fillIntake,
  getAsset,
  listAssetClasses,
  listAssets,
  listIntake,
  mergeIntake,
  moveAsset,
  saveAssetClass,
  splitIntake,
  takeOverAssets,
} from "@/server/assets";
import { asks } from "./asks";
import type { Endpoint } from "./endpoint";
import { listEndpoint } from "./listEndpoint";

/** Assets: their classes, what waits for one, the register, and what has moved them. */
export const ASSET_ENDPOINTS: readonly Endpoint[] = [
  asks("get", "/asset-classes", listAssetClasses, "Classes of assets: accounts and rules", {
    example: { items: [{ code: "CRANES", name: "Cranes", threshold: "500" }] },
  }),
  asks("post", "/asset-classes", saveAssetClass, "Add a class of assets, or change it"),
  listEndpoint({
    path: "/assets",
    summary:
      "The register in a book on a day; POST /runs with kind depreciation and a period charges it",
    list: listAssets,
    query: { book: string(), on: string().required() },
    item: ({ cost, accumulated, carried, currency, ...a }) => ({
      ...a,
      currency,
      cost: decimalText(cost, currency),
      accumulated: decimalText(accumulated, currency),
      carried: decimalText(carried, currency),
    }),
    example: {
      id: 7100,
      number: "HSF-26-A00001",
      description: "Crane",
      cost: "42000.00",
      accumulated: "700.00",
      carried: "41300.00",
    },
  }),
  asks("get", "/assets/{key}", getAsset, "An asset: each book, its plan, all that has moved it", {
    example: { number: "HSF-26-A00001", description: "Crane", books: [], movements: [] },
  }),
  asks("post", "/assets/{id}/move", moveAsset, "Who uses an asset where, from a day on"),
  asks(
    "post",
    "/assets/take-over",
    takeOverAssets,
    "Take over assets that the accounts hold already; without take, what would happen",
    { example: { added: 12, changed: 0, same: 0, notes: [] } },
  ),
  asks("get", "/asset-intake", listIntake, "What waits to become an asset, and what it needs", {
    example: { lines: [], clearing: { accounts: ["1088"], held: "0.00", listed: "0.00" } },
  }),
  asks(
    "post",
    "/asset-intake/fill",
    fillIntake,
    "Say what lines are to become; POST /runs with kind asset-intake takes in what is complete",
  ),
  asks("post", "/asset-intake/merge", mergeIntake, "Let lines become one asset, or be apart again"),
  asks("post", "/asset-intake/split", splitIntake, "Split a line into parts, to the cent", {
    example: { parts: 3 },
  }),
  asks(
    "get",
    "/asset-schedule",
    assetSchedule,
    "What has moved assets by class, and the accounts",
    {
      example: { rows: [], held: "0.00", chargedUpTo: "2026-10" },
    },
  ),
];
