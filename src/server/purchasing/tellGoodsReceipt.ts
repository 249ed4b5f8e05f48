import { ok, type Result } from "@/core/shared";
import { type Context } from "../access";

/** What is looked at again when an order is received or changed, so that what waited goes on. */
export type AfterGoodsReceipt = (context: Context, orderId: number) => Promise<Result<unknown>>;

export async function tellGoodsReceipt(
  context: Context,
  orderId: number,
): Promise<Result<unknown>> {
  for (const look of (await import("../kinds")).AFTER_GOODS_RECEIPT) {
    const done = await look(context, orderId);
    if (!done.ok) return done;
  }
  return ok({});
}
