import { RunScreen, type RunScreenProps } from "@/app/runs/RunScreen";

export default function RunOfThisPage(props: RunScreenProps) {
  return <RunScreen {...props} at="/assets/register/runs" />;
}
