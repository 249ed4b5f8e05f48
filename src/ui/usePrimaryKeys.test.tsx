import { Tab, TabGroup, TabList, TabPanel, TabPanels } from "@headlessui/react";
import { render, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { expect, test, vi } from "vitest";
import { usePrimaryKeys } from "./usePrimaryKeys";

function Screen({ check, main }: { check: () => void; main: () => void }) {
  usePrimaryKeys(check, main);
  return (
    <TabGroup>
      <TabList>
        <Tab>Items</Tab>
        <Tab>Letters</Tab>
      </TabList>
      <TabPanels>
        <TabPanel>
          <input aria-label="Amount" />
        </TabPanel>
        <TabPanel>None</TabPanel>
      </TabPanels>
    </TabGroup>
  );
}

test("the keys of the page act once wherever the focus is: in a field, and on a tab", async () => {
  const [check, main] = [vi.fn(), vi.fn()];
  const user = userEvent.setup();
  render(<Screen check={check} main={main} />);
  await user.click(screen.getByLabelText("Amount"));
  await user.keyboard("{Control>}{Shift>}{Enter}{/Shift}{/Control}");
  await waitFor(() => expect(main).toHaveBeenCalledTimes(1));
  await user.click(screen.getByRole("tab", { name: "Letters" }));
  await user.keyboard("{Control>}{Shift>}{Enter}{/Shift}{/Control}");
  await waitFor(() => expect(main).toHaveBeenCalledTimes(2));
  await user.keyboard("{Control>}{Enter}{/Control}");
  await waitFor(() => expect(check).toHaveBeenCalledTimes(1));
  expect(screen.getByRole("tab", { name: "Letters" }).getAttribute("aria-selected")).toBe("true");
});
