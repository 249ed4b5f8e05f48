"use client";
import { checkPassword } from "@/core/access";
import { FieldForm } from "@/app/lib/FieldForm";
import { faultOf, type Fault } from "@/ui/form";
import { useWork } from "@/ui/frame/work";
import { saveRecordAction } from "../setup/actions";

export function PasswordForm() {
  const { person } = useWork();
  const check = ({ password, again }: Record<string, unknown>): Fault[] => {
    const read = checkPassword(String(password), person.login);
    return [
      ...(read.ok ? [] : read.problems.map(faultOf)),
      ...(password === again
        ? []
        : [{ field: "again", message: "The new password was not typed the same twice." }]),
    ];
  };
  return (
    <FieldForm
      name="password"
      title="Password"
      fields={[
        {
          key: "current",
          label: "Current password",
          kind: "password",
          complete: "current-password",
        },
        { key: "password", label: "New password, 12 characters or more", kind: "password" },
        { key: "again", label: "Repeat the new password", kind: "password" },
      ]}
      start={{ current: "", password: "", again: "" }}
      check={check}
      button="Change password"
      main
      job={({ current, password }) => saveRecordAction("password", { current, password })}
      done="Your password is changed. Your other sign-ins and tokens of programs have ended."
      empties
    />
  );
}
