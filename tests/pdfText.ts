import { getDocument } from "pdfjs-dist/legacy/build/pdf.mjs";

/** What a PDF says, line by line as it was drawn, its pages one after the other. */
export async function textOfPdf(file: Uint8Array): Promise<string> {
  const document = await getDocument({ data: new Uint8Array(file), verbosity: 0 }).promise;
  const pages: string[] = [];
  for (let n = 1; n <= document.numPages; n++) {
    const { items } = await (await document.getPage(n)).getTextContent();
    pages.push(items.map((i) => ("str" in i ? i.str : "")).join("\n"));
  }
  await document.destroy();
  return pages.join("\n");
}
