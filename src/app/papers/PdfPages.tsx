"use client";
import { useEffect, useRef, useState } from "react";

/**
 * The pages of a PDF as pictures, beside what is being written from it. It is drawn by a library in
 * this page; nothing of it can run.
 */
export function PdfPages({ url, name }: { url: string; name: string }) {
  const host = useRef<HTMLDivElement>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [pages, setPages] = useState<number | null>(null);
  useEffect(() => {
    let gone = false;
    let close: (() => Promise<void>) | undefined;
    const draw = async () => {
      const pdf = await import("pdfjs-dist/legacy/build/pdf.mjs");
      pdf.GlobalWorkerOptions.workerPort ??= new Worker(
        new URL("pdfjs-dist/legacy/build/pdf.worker.mjs", import.meta.url),
        { type: "module" },
      );
      const response = await fetch(url);
      const task = pdf.getDocument({
        data: new Uint8Array(await response.arrayBuffer()),
        isEvalSupported: false,
        disableFontFace: false,
      });
      close = () => task.destroy();
      const document = await task.promise;
      if (gone) return;
      setPages(document.numPages);
      for (let n = 1; n <= Math.min(document.numPages, 20); n++) {
        const page = await document.getPage(n);
        const whole = page.getViewport({ scale: 1 });
        const width = host.current?.clientWidth ?? 400;
        const viewport = page.getViewport({
          scale: (width / whole.width) * Math.min(2, window.devicePixelRatio || 1),
        });
        const canvas = window.document.createElement("canvas");
        canvas.width = viewport.width;
        canvas.height = viewport.height;
        canvas.style.width = "100%";
        canvas.className = "mb-2 rounded border border-line-2 bg-white";
        canvas.setAttribute("role", "img");
        canvas.setAttribute("aria-label", `${name}, page ${n}`);
        if (gone) return;
        host.current?.append(canvas);
        await page.render({ canvas, viewport }).promise;
      }
    };
    void draw().catch(
      () => !gone && setProblem("This PDF cannot be shown. It can still be downloaded."),
    );
    const at = host.current;
    return () => {
      gone = true;
      at?.replaceChildren();
      void close?.();
    };
  }, [url, name]);
  return (
    <div>
      {problem ? (
        <p role="alert" className="rounded bg-coral-2 px-2 py-1">
          {problem}
        </p>
      ) : (
        <p className="pb-1 text-xs text-ink-3">
          {pages === null
            ? "Opening …"
            : `${name}, ${pages === 1 ? "1 page" : `${pages} pages`}${pages > 20 ? "; the first 20 are shown" : ""}`}
        </p>
      )}
      <div ref={host} />
    </div>
  );
}
