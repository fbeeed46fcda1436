export { SignInForm } from "./SignInForm";
export { useRole, useStart } from "./useStart";
