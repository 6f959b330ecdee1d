// What lists of the sheets of a spreadsheet are called: as their spreadsheet, with the sheet's name where it has several.
import { correctName, freeName, nameKey, splitExtension } from './check'

/**
 * @param file the spreadsheet's name @param sheets all that it has @param wanted those that lists are made of
 * @param type of the lists @param taken keys of the names in that place
 * @returns a free name for each of `wanted`, in their order
 */
export function sideListNames(
  file: string,
  sheets: readonly string[],
  wanted: readonly string[],
  type: string,
  taken: Iterable<string>,
): string[] {
  const [stem] = splitExtension(file)
  const keys = new Set(taken)
  return wanted.map((sheet, at) => {
    // A sheet may be called what no file can be.
    const own = sheets.length < 2 ? `${stem}.${type}` : correctName(`${stem} ${sheet.trim()}.${type}`)
    const name = freeName(own && splitExtension(own)[1] === `.${type}` ? own : `${stem} ${at + 1}.${type}`, keys)
    keys.add(nameKey(name))
    return name
  })
}
