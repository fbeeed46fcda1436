import { useParams } from "react-router";
import { AccountView, JoinForm, PasswordLinkForm } from "@/features/session";

/** `/join` and `/join/CODE`. */
export function JoinScreen() {
  return <JoinForm code={useParams().code ?? ""} />;
}

/** `/password/TOKEN`. */
export function PasswordScreen() {
  return <PasswordLinkForm token={useParams().token ?? ""} />;
}

/** One's own account. */
export function AccountScreen() {
  return <AccountView />;
}
