/** The most pictures of one jot. */
export const mostPictures = 4;

/** Is this a whole address of the web? */
export const isWebAddress = (text: string): boolean => /^https?:\/\/[^\s/]+\.[^\s]+$/i.test(text);

/** Does a jot say anything? Words, a level, a picture or a link. */
export const isWritten = (
  note: string | null,
  { levelId, link, pictures }: { levelId: string | null; link: object | null; pictures: readonly object[] },
): boolean => Boolean(note?.trim()) || levelId !== null || link !== null || pictures.length > 0;
