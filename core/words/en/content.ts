/** Sentences of documents and workbooks. */
export const content = {
  'content.there-is-no-sheet': 'There is no sheet {index}.',
  'content.a-workbook-keeps-at-least-one-sheet': 'A workbook keeps at least one sheet.',
  'content.there-is-no-sheet-2': 'There is no sheet {sheet}.',
  'content.this-is-past-the-end-of-the': 'This is past the end of the sheet.',
  'content.these-rows-or-columns-are-not-there': 'These rows or columns are not there.',
  'content.the-last-cells-would-be-pushed-off': 'The last cells would be pushed off the sheet.',
  'content.a-sheet-needs-a-name': 'A sheet needs a name.',
  'content.the-name-of-a-sheet-has-at': 'The name of a sheet has at most 31 letters.',
  'content.the-name-of-a-sheet-cannot-have': 'The name of a sheet cannot have : \\ / ? * [ or ] in it.',
  'content.the-name-of-a-sheet-cannot-begin': 'The name of a sheet cannot begin or end with an apostrophe.',
  'content.another-sheet-has-this-name': 'Another sheet has this name.',
  'content.formula-text-not-closed': 'A text is not closed here: its second quotation mark is missing.',
  'content.formula-bracket-not-closed': 'A bracket is not closed.',
  'content.formula-bracket-too-many': 'There is one closing bracket too many here.',
  'content.formula-ends-too-soon': 'Something is missing at the end.',
  'content.formula-not-read-here': '“{piece}” cannot be read here.',
}
