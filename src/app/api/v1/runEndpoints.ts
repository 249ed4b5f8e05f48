import { array, mixed, object, string } from "yup";
import { decimalText } from "@/core/shared";
import { listJobs, stopJob } from "@/server/jobs";
import {
  changeRun,
  discardRun,
  getRun,
  getRunItem,
  listRunDrafts,
  listRunItems,
  listRuns,
  postRun,
  proposeRun,
  reverseRun,
} from "@/server/runs";
import { asks } from "./asks";
import { map, type Endpoint } from "./endpoint";
import { listEndpoint } from "./listEndpoint";

/** Runs of all kinds, from the preview to the reversal, and the jobs that large ones are. */
export const RUN_ENDPOINTS: readonly Endpoint[] = [
  listEndpoint({
    path: "/runs",
    summary: "Runs of a company, newest first",
    list: listRuns,
    item: (r) => ({ ...r, amount: decimalText(r.amount, r.currency) }),
    example: {
      id: 5100,
      number: "HSF-25-R0002",
      status: "preview",
      kind: "Year end",
      title: "Year end 2025",
      amount: "1204.00",
      currency: "EUR",
    },
  }),
  asks("get", "/runs/{key}", getRun, "A run by its id or number: what it would post, or posted", {
    example: { id: 5100, number: "HSF-25-R0002", status: "preview", head: { figures: [] } },
  }),
  listEndpoint({
    path: "/runs/{key}/items",
    summary: "The items of a run, with why each is in it or not",
    list: listRunItems,
    within: ({ key }) => ({ run: key }),
    item: ({ id, amount, asks: _asks, ...item }) => ({
      no: id,
      ...item,
      amount: decimalText(amount, item.currency),
    }),
    example: { no: 1, key: "item|4711", label: "INV-4711", amount: "1204.00", state: "in" },
  }),
  asks("get", "/runs/{run}/items/{no}", getRunItem, "How the figure of an item came about", {
    example: { key: "item|4711", explanation: { title: "INV-4711", steps: [] } },
  }),
  asks(
    "get",
    "/runs/{run}/journals",
    listRunDrafts,
    "The journals that a run would post, 50 at once",
    {
      example: { drafts: [] },
    },
  ),
  asks("get", "/jobs", listJobs, "Long work that is under way, or ended of late", {
    example: {
      items: [{ id: 7, title: "HSF-26-R0031", state: "running", done: 4000, total: 9000 }],
    },
  }),
  asks("post", "/jobs/{id}/stop", stopJob, "Stop a job after the step in hand", {
    example: { id: 7 },
  }),
  {
    method: "post",
    path: "/runs",
    summary:
      "Propose a run: a preview that posts nothing. A large one is computing for a while, as a job",
    body: object({ kind: string().required(), params: mixed().default({}) }),
    status: 201,
    example: { id: 5100, number: "HSF-25-R0002", status: "preview" },
    handle: async ({ caller, body }) =>
      map(await proposeRun(caller, body), ({ id, number, status }) => ({ id, number, status })),
  },
  {
    method: "post",
    path: "/runs/{key}/change",
    summary: "Leave items out of a preview, or give amounts that it asks for; it is computed again",
    body: object({ dropped: array(string().required()).default([]), amounts: mixed().default({}) }),
    example: { id: 5100 },
    handle: async ({ caller, path, body }) =>
      changeRun(caller, { key: path.key, ...(body as object) }),
  },
  {
    method: "post",
    path: "/runs/{key}/post",
    summary:
      "Post exactly what a run's preview shows. A large one is posting for a while, as a job",
    example: { id: 5100, status: "posted", journals: ["HSF-25-Y002"] },
    handle: async ({ caller, path }) =>
      map(await postRun(caller, { key: path.key }), ({ id, status, journals }) => ({
        id,
        status,
        journals,
      })),
  },
  {
    method: "post",
    path: "/runs/{key}/discard",
    summary: "Discard a preview",
    example: {},
    handle: async ({ caller, path }) =>
      map(await discardRun(caller, { key: path.key }), () => ({})),
  },
  {
    method: "post",
    path: "/runs/{key}/reverse",
    summary: "Reverse all journals of a run",
    body: object({ reason: string().required() }),
    status: 201,
    example: { id: 5100, journals: ["HSF-25-Y003"] },
    handle: async ({ caller, path, body }) =>
      map(await reverseRun(caller, { key: path.key, ...(body as object) }), ({ id, journals }) => ({
        id,
        journals,
      })),
  },
];
