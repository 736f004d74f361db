import stringify from "safe-stable-stringify";
import type { JotDetails } from "#core/model/jot.ts";
import type { RevisedContent } from "#core/model/revision.ts";
import sharp from "sharp";
import { makePicture } from "#server/attachments/make-picture.ts";
import { drawings } from "./drawings.ts";
import { jotCategories, jotStories } from "./jots.ts";
import type { PersonKey } from "./school.ts";

/** Adds the categories, jots and pictures to the rows of the demo. Each picture goes the way of one that a device sends. */
export async function seedJots({
  add,
  newId,
  idAt,
  studentIdOf,
  personIds,
  dateOf,
  momentOf,
  schoolDay,
}: {
  add: (table: string, row: Record<string, unknown>) => void;
  newId: () => string;
  idAt: (day: number) => string;
  studentIdOf: (given: string) => string;
  personIds: Record<PersonKey, string>;
  dateOf: (day: number) => string;
  /** The moment of a time of the school, as the database takes it. */
  momentOf: (local: string) => unknown;
  /** The last school day up to a day of the story. */
  schoolDay: (day: number) => number;
}): Promise<void> {
  const categories = jotCategories.map(({ name, levels }, position) => ({
    ...{ categoryId: newId(), name, position },
    levels: levels.map((level) => ({ levelId: newId(), ...level })),
  }));
  for (const { categoryId, name, position, levels } of categories)
    add("jot_categories", { category_id: categoryId, name, position, levels: JSON.stringify(levels) });
  for (const story of jotStories) {
    const day = schoolDay(story.day);
    const { at, by, note, own = false, teamOnly = false, link = null, level } = story;
    const category = categories.find(({ name }) => name === story.category);
    const jot_id = idAt(day);
    const student_id = studentIdOf(story.given);
    const pictures = (story.pictures ?? []).map((picture) => ({ pictureId: idAt(day), ...picture }));
    const details: JotDetails = {
      levelId: (level !== undefined && category?.levels[level - 1]?.levelId) || null,
      link,
      pictures: pictures.map(({ pictureId, caption }) => ({ pictureId, caption })),
    };
    const saved = momentOf(`${dateOf(day)}T${at}`);
    const content: RevisedContent["jot"] = {
      ...{ ...details, on: dateOf(day), at, period: null, note, own, teamOnly, observerId: null },
      categoryId: category?.categoryId ?? null,
    };
    add("jots", {
      ...{ jot_id, student_id, author_id: personIds[by], noted_on: dateOf(day), noted_at: saved },
      ...{
        category_id: content.categoryId,
        content: JSON.stringify(details),
        note,
        own,
        team_only: teamOnly,
      },
      ...{ made_hash: stringify(content), saved_at: saved },
    });
    add("revisions", {
      ...{ thing: "jot", thing_id: jot_id, revision: 1, act: "made", person_id: personIds[by], at: saved },
      content: JSON.stringify(content),
    });
    for (const { pictureId, drawing } of pictures) {
      const drawn = await sharp(Buffer.from(drawings[drawing])).png().toBuffer();
      const { sentSha256, ...made } = await makePicture(drawn);
      add("pictures", {
        ...{ picture_id: pictureId, student_id, jot_id, person_id: personIds[by], at: saved },
        ...{ ...made, bytes: made.content.length, sent_sha256: sentSha256 },
      });
    }
  }
}
