"use client";
import { Page } from "@/ui/Page";

/**
 * A fault of ours on one screen: the frame stays, what was typed into drafts is kept, and there is
 * a way on.
 */
export default function ScreenError({ reset }: { error: Error; reset: () => void }) {
  return (
    <Page title="This screen has failed">
      <div role="alert" className="notice notice-bad">
        <p>
          It is a fault of the application, not of what you entered. Nothing was posted by it, and
          drafts keep what was typed.
        </p>
        <p className="mt-2 flex gap-2">
          <button type="button" className="button" onClick={reset}>
            Show it again
          </button>
          <button type="button" className="button" onClick={() => window.location.reload()}>
            Load the page anew
          </button>
        </p>
      </div>
    </Page>
  );
}
