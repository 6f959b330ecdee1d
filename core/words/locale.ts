/** How a language writes its dates and numbers: a BCP 47 tag. */
export const localeOf = (language: string): string =>
  language === 'de' ? 'de-DE' : language === 'en' ? 'en-GB' : language
