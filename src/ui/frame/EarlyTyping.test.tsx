import { fireEvent, render } from "@testing-library/react";
import { useState } from "react";
import { renderToString } from "react-dom/server";
import { expect, test } from "vitest";
import { EarlyTyping } from "./EarlyTyping";
import { NOTE_EARLY } from "./noteEarly";

function Head() {
  const [supplier, setSupplier] = useState("");
  const [kind, setKind] = useState("invoice");
  const [gross, setGross] = useState(true);
  const [note, setNote] = useState("kept");
  return (
    <form>
      <input value={supplier} onChange={(e) => setSupplier(e.target.value)} />
      <textarea value={note} onChange={(e) => setNote(e.target.value)} />
      <select value={kind} onChange={(e) => setKind(e.target.value)}>
        <option value="credit note">Credit note</option>
        <option value="invoice">Invoice</option>
      </select>
      <label>
        <input type="checkbox" checked={gross} onChange={(e) => setGross(e.target.checked)} />
      </label>
      <output>{[supplier, note, kind, String(gross)].join("|")}</output>
      <EarlyTyping />
    </form>
  );
}

const typed = (field: Element) => field.dispatchEvent(new Event("input", { bubbles: true }));

test("what is typed, chosen and ticked before the page listens is known to it afterwards", () => {
  const box = document.body.appendChild(document.createElement("div"));
  box.innerHTML = renderToString(<Head />);
  // As the page does it: a script before all others.
  new Function(NOTE_EARLY)();
  const [supplier, gross] = box.querySelectorAll("input");
  const kind = box.querySelector("select")!;
  supplier!.value = "S-103";
  typed(supplier!);
  kind.value = "credit note";
  typed(kind);
  gross!.click();
  const shown = () => box.querySelector("output")!.textContent;
  expect(shown()).toBe("|kept|invoice|true");
  render(<Head />, { container: box, hydrate: true });
  expect(shown()).toBe("S-103|kept|credit note|false");
  expect(supplier!.value).toBe("S-103");
  fireEvent.change(supplier!, { target: { value: "S-104" } });
  expect(shown()).toBe("S-104|kept|credit note|false");
});
