/**
 * Opens the data folder when the server starts, so that a folder in use, damaged or too new is said
 * then and not to the first person who asks.
 */
export async function register() {
  if (
    process.env.NEXT_RUNTIME === "nodejs" &&
    process.env.NEXT_PHASE !== "phase-production-build"
  ) {
    const { startUp } = await import("./server/runtime");
    await startUp();
  }
}
