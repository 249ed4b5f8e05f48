import Link from "next/link";

export const metadata = { title: "Page not found" };

/** An address that leads nowhere. */
export default function NotFound() {
  return (
    <main className="grid min-h-screen place-items-center p-10 text-center">
      <div className="max-w-md">
        <h1 className="mb-1">There is no such page</h1>
        <p className="mb-4 text-ink-2">The address may be incomplete, or from an older link.</p>
        <Link className="button button-main" href="/today">
          Open Today
        </Link>
      </div>
    </main>
  );
}
