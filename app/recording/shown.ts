/**
 * Done once what was just changed is on the screen: the eye first. A page that is not seen draws nothing, so a tenth of a second is
 * the end of the waiting.
 */
export const shown = (): Promise<void> =>
  new Promise((resolve) => {
    requestAnimationFrame(() => setTimeout(resolve));
    setTimeout(resolve, 100);
  });
