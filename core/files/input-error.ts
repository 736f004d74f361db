/** Bad input, at a physical line of the file (the header is line 1). */
export class InputError extends Error {
  constructor(
    readonly line: number,
    message: string,
  ) {
    super(message);
  }
}
