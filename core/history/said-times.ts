// Times as Germans say them, turned into the English that `parseMoment` reads: whoever types either is understood.

const words: [RegExp, string][] = [
  [/\bjetzt\b/g, 'now'],
  [/\bheute(?: früh)?\b/g, 'today'],
  [/\bgestern\b/g, 'yesterday'],
  [/\bletzte[nrs]? woche\b/g, 'last week'],
  [/\bletzte[nrs]? monat\b/g, 'last month'],
  [/\bletzte[nrs]? jahr\b/g, 'last year'],
  [/\b(?:letzte[nrs]?|am) (?=[a-z])/g, 'last '],
  [/\bum (?=\d)/g, 'at '],
  [/ uhr$/g, ''],
]
const weekdays: Record<string, string> = {
  montag: 'monday',
  dienstag: 'tuesday',
  mittwoch: 'wednesday',
  donnerstag: 'thursday',
  freitag: 'friday',
  samstag: 'saturday',
  sonnabend: 'saturday',
  sonntag: 'sunday',
}
const months = ['jan', 'feb', 'mär', 'apr', 'mai', 'jun', 'jul', 'aug', 'sep', 'okt', 'nov', 'dez']
const english = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec']
const units: Record<string, string> = {
  minute: 'minute',
  stunde: 'hour',
  tag: 'day',
  woche: 'week',
  monat: 'month',
  jahr: 'year',
}

/** @param text in small letters, with single spaces */
export function fromGerman(text: string): string {
  const back = /^vor (\d+|eine[rmn]?) (minute|stunde|tag|woche|monat|jahr)(?:e|en|n)?$/.exec(text)
  if (back) return `${/\d/.test(back[1]!) ? back[1] : 'one'} ${units[back[2]!]}s ago`
  const said = words.reduce((rest, [german, here]) => rest.replace(german, here), text)
  return said
    .replace(/\b(?:last )?([a-z]{5,})\b/g, (whole, name: string) => whole.replace(name, weekdays[name] ?? name))
    .replace(
      /(?<=\b\d{1,2})\.? (jan|feb|mär|mrz|apr|mai|jun|jul|aug|sep|okt|nov|dez)[a-zä]*\.?(?= |$)/g,
      (_, month: string) => {
        const at = months.indexOf(month === 'mrz' ? 'mär' : month)
        return ` ${english[at]}`
      },
    )
}
