import type { DraftModel } from '../contract'

/**
 * The type by which a draft's base is read: what its records were written on is what they mean, also when its file is
 * another type since, or somebody said something else of how its list is written.
 * @param wanted the file's; undefined where only the draft is known
 * @param usual of a draft from a Jaula that kept nothing of it
 */
export const typeOfDraft = (
  records: readonly unknown[],
  written: DraftModel | null,
  wanted: string | undefined,
  usual: 'docx' | 'xlsx',
): string => (records.length && written ? written.type : (wanted ?? written?.type ?? usual))
