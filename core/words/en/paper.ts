/** Pages, as they come to paper. */
export const paper = {
  'paper.on-pages': 'On pages',
  'paper.look-at-its-pages': 'Look at its pages',
  'paper.setting': 'Setting the pages …',
  'paper.pages': '{pages, plural, one {1 page} other {# pages}}',
  'paper.page-of': 'Page {page} of {pages}',
  'paper.wider': 'As wide as the window',
  'paper.beside': 'Beside the work',
  'paper.save-pdf': 'Save as PDF',
  'paper.what-for': 'What the PDF is for',
  'paper.plain': 'To read and print',
  'paper.archive': 'To keep for long (PDF/A-2a)',
  'paper.accessible': 'To be read out well (PDF/UA-1)',
  'paper.stands-for':
    '{font} is not here, {by} is used instead{sameWidths, select, true {; lines break as with it} other {}}.',
  'paper.undrawn':
    '{undrawn, plural, one {One picture cannot be drawn; its place stays.} other {# pictures cannot be drawn; their places stay.}}',
  'paper.its-pages': 'Its pages',
}
