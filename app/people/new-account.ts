import * as yup from "yup";
import { leastPassword, mostPassword } from "~/core/shape/password";

/** What is asked of whoever makes an account. */
export const newName = yup
  .string()
  .trim()
  .required("Type your name, as colleagues will read it.")
  .max(200, "Use at most 200 characters.");
export const newEmail = yup
  .string()
  .trim()
  .required("Type your e-mail address.")
  .email("This is not an e-mail address.")
  .max(200, "Use at most 200 characters.");
export const newPassword = yup
  .string()
  .required("Choose a password.")
  .min(leastPassword, `Use at least ${leastPassword} characters.`)
  .max(mostPassword, `Use at most ${mostPassword} characters.`);
