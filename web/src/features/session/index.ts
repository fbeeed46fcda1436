export { AccountView } from "./AccountView";
export { JoinForm } from "./JoinForm";
export { PasswordLinkForm } from "./PasswordLinkForm";
export { SetUpForm } from "./SetUpForm";
export { SignInForm } from "./SignInForm";
export { useRole, useStart } from "./useStart";
