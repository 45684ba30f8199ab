/** Resolves when what was changed by now is drawn; outside a browser at once. */
export const drawn = (): Promise<void> =>
  new Promise((resolve) => {
    if (typeof requestAnimationFrame === "undefined") resolve();
    // The first frame is begun after the change, the second after that was drawn.
    else requestAnimationFrame(() => requestAnimationFrame(() => resolve()));
  });
