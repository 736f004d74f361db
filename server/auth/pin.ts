/** Digits that anyone tries first: all the same, or counting up or down by one. */
export function isEasyPin(pin: string): boolean {
  const steps = [...pin].slice(1).map((digit, index) => Number(digit) - Number(pin[index]));
  return [0, 1, -1].some((step) => steps.every((one) => one === step));
}
