import { orderSchema, type OrderInput } from "@/core/purchasing";
import { type Result } from "@/core/shared";
import { defineUseCase } from "../access";
import { defineKept } from "../keptDocuments";
import { KIND, type Placed, readPaperOrder, keep, place } from "./orderKind";

export const {
  save: saveOrder,
  post: placeOrder,
  submit: submitOrder,
  remove: deleteOrder,
  approve: approveOrder,
} = defineKept(KIND);

/** An order from a program: placed at once. One that can't be placed is not kept. */
export const createOrder = defineUseCase({
  name: "createOrder",
  kind: "write",
  rights: ["post.payables"],
  what: "place orders",
  company: (i) => i.company,
  schema: orderSchema,
  run: async (context, input): Promise<Result<Placed>> => {
    const content = input as OrderInput;
    const reading = await readPaperOrder(context, "order", content);
    if (!reading.ok) return reading;
    const kept = await keep(context, "order", content, reading.value, undefined);
    return place(context, kept.id, "order", content, false);
  },
});
