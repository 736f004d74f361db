/** The fields of a form as an address, without what is empty. */
export function filledFields(form: HTMLFormElement): URLSearchParams {
  const address = new URLSearchParams();
  for (const [name, value] of new FormData(form))
    if (typeof value === "string" && value !== "") address.append(name, value);
  return address;
}
