/** Minutes since midnight of a time `HH:MM`. */
export const minutesOf = (time: string): number => 60 * Number(time.slice(0, 2)) + Number(time.slice(3, 5));
