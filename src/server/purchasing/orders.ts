import { defineCreate, defineKept, definePostKept, defineSubmitKept } from "../keptDocuments";
import { KIND } from "./orderKind";

export const {
  save: saveOrder,
  post: placeOrder,
  submit: submitOrder,
  remove: deleteOrder,
  approve: approveOrder,
} = defineKept(KIND, {
  save: "saveOrder",
  post: "placeOrder",
  submit: "submitOrder",
  remove: "deleteOrder",
});

/** Places a draft as it is kept. */
export const placeStoredOrder = definePostKept(KIND, "placeStoredOrder");
export const submitStoredOrder = defineSubmitKept(KIND, "submitStoredOrder");

/** An order from a program: placed at once, or kept as a draft. One that can't be placed is not kept. */
export const createOrder = defineCreate(KIND, "createOrder", {
  posts: true,
  faulty: "kept",
  posted: ({ id, number, next }) => ({ id, number, status: "open", next }),
});
