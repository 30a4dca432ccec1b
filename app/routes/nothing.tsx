import { notFound } from "#app/request.ts";

export const loader = () => {
  throw notFound();
};

export default function Nothing() {
  return null;
}
