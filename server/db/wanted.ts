/** Which rows of a list are wanted: so many of the first, or those with these ids. */
export interface Wanted {
  limit?: number | null;
  ids?: readonly string[] | null;
}
