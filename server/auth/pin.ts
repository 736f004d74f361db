/** Digits that anyone tries first: all the same, two in turn, or counting up or down by one. */
export function isEasyPin(pin: string): boolean {
  const steps = [...pin].slice(1).map((digit, index) => Number(digit) - Number(pin[index]));
  return [1, -1].some((step) => steps.every((one) => one === step)) || /^(\d{1,2})\1+$/.test(pin);
}
