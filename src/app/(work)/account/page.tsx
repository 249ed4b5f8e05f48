import { Page } from "@/ui/Page";
import { PasswordForm } from "./PasswordForm";

export const metadata = { title: "Password" };

export default function AccountPage() {
  return <Page title="Password"><PasswordForm /></Page>;
}
