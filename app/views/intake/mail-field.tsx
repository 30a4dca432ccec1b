import type { ComponentProps } from "react";
import { TextField } from "#app/ui/field.tsx";

/** Where somebody without an account can be written to. */
export const MailField = (props: Omit<ComponentProps<typeof TextField>, "label"> & { label?: string }) => (
  <TextField label="Your mail address" name="email" type="email" autoComplete="email" maxLength={200} {...props} />
);
