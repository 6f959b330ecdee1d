// Styles by the names that files of many programs have for them (ISO/IEC 26300-1 §16.2).
/** The common style of quotes, by the name that files have for it. */
export const quoteStyle = 'Quotations'
export const headingStyle = (level: number): string => `Heading_20_${level}`

const headingSizes = [16, 14, 12, 11, 11, 11]
/** Common styles that work may be written in, as files of other programs name them. */
export const missingStyles: Readonly<Record<string, string>> = {
  ...Object.fromEntries(
    headingSizes.map((size, at) => [
      headingStyle(at + 1),
      `<style:style style:name="${headingStyle(at + 1)}" style:display-name="Heading ${at + 1}" style:family="paragraph" style:parent-style-name="Standard" style:next-style-name="Standard" style:default-outline-level="${at + 1}" style:class="text">` +
        '<style:paragraph-properties fo:margin-top="12pt" fo:margin-bottom="4pt" fo:keep-with-next="always"/>' +
        `<style:text-properties fo:font-size="${size}pt" fo:font-weight="bold"/></style:style>`,
    ]),
  ),
  [quoteStyle]:
    `<style:style style:name="${quoteStyle}" style:family="paragraph" style:parent-style-name="Standard" style:class="html">` +
    '<style:paragraph-properties fo:margin-left="28pt" fo:margin-right="28pt"/></style:style>',
  Standard: '<style:style style:name="Standard" style:family="paragraph" style:class="text"/>',
}
