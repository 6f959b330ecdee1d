/** Sentences of files that are read: what is not kept. */
export const formats = {
  'formats.footnotes': '{n, plural, one {# footnote} other {# footnotes}}',
  'formats.endnotes': '{n, plural, one {# endnote} other {# endnotes}}',
  'formats.comments': '{n, plural, one {# comment} other {# comments}}',
  'formats.comment-ranges':
    '{n, plural, one {the words that # comment is about} other {the words that # comments are about}}',
  'formats.charts': '{n, plural, one {# chart} other {# charts}}',
  'formats.images': '{n, plural, one {# image} other {# images}}',
  'formats.equations': '{n, plural, one {# equation} other {# equations}}',
  'formats.macros': '{n, plural, one {# macro} other {# macros}}',
  'formats.bookmarks': '{n, plural, one {# bookmark} other {# bookmarks}}',
  'formats.drawn-shapes': '{n, plural, one {# drawn shape} other {# drawn shapes}}',
  'formats.drawn-shapes-and-text-boxes':
    '{n, plural, one {# drawn shape or text box} other {# drawn shapes and text boxes}}',
  'formats.embedded-objects': '{n, plural, one {# embedded object} other {# embedded objects}}',
  'formats.symbols-of-a-special-font':
    '{n, plural, one {# symbol of a special font} other {# symbols of a special font}}',
  'formats.ruby-text': '{n, plural, one {# ruby text} other {# ruby text}}',
  'formats.embedded-files': '{n, plural, one {# embedded file} other {# embedded files}}',
  'formats.positioned-tabs': '{n, plural, one {# positioned tab} other {# positioned tabs}}',
  'formats.page-number-fields': '{n, plural, one {# page number field} other {# page number fields}}',
  'formats.linked-files': '{n, plural, one {# linked file} other {# linked files}}',
  'formats.named-styles':
    '{n, plural, one {# named style (its text stays, in Jaula’s look)} other {# named styles (their text stays, in Jaula’s look)}}',
  'formats.page-headers': '{n, plural, one {# page header} other {# page headers}}',
  'formats.page-footers': '{n, plural, one {# page footer} other {# page footers}}',
  'formats.tables-inside-tables':
    '{n, plural, one {# table inside a table (its text stays)} other {# tables inside tables (their text stays)}}',
  'formats.tracked-removals': '{n, plural, one {# tracked removal} other {# tracked removals}}',
  'formats.sections-with-a-page-layout-of-their-own':
    '{n, plural, one {# section with a page layout of its own} other {# sections with a page layout of their own}}',
  'formats.page-breaks-inside-tables':
    '{n, plural, one {# page break inside a table} other {# page breaks inside tables}}',
  'formats.tracked-insertions':
    '{n, plural, one {# tracked insertion (its text stays)} other {# tracked insertions (their text stays)}}',
  'formats.fields': '{n, plural, one {# field (its last result stays)} other {# fields (their last result stays)}}',
  'formats.column-breaks': '{n, plural, one {# column break} other {# column breaks}}',
  'formats.images-of-a-type-browsers-cannot-show':
    '{n, plural, one {# image of a type browsers cannot show} other {# images of a type browsers cannot show}}',
  'formats.images-with-a-position-of-their-own':
    '{n, plural, one {# image with a position of its own (it stays in the line)} other {# images with a position of their own (they stay in the line)}}',
  'formats.list-numbers-of-their-own':
    '{n, plural, one {# list whose numbers are written in a way of their own (they are shown as plain ones)} other {# lists whose numbers are written in a way of their own (they are shown as plain ones)}}',
  'formats.defined-names': '{n, plural, one {# defined name} other {# defined names}}',
  'formats.workbook-protection': '{n, plural, one {# workbook protection} other {# workbook protection}}',
  'formats.links-to-other-files': '{n, plural, one {# link to another file} other {# links to other files}}',
  'formats.sheets-that-are-not-of-cells':
    '{n, plural, one {# sheet that is not of cells} other {# sheets that are not of cells}}',
  'formats.hidden-sheets': '{n, plural, one {# hidden sheet} other {# hidden sheets}}',
  'formats.comment-threads': '{n, plural, one {# comment thread} other {# comment threads}}',
  'formats.pivot-tables': '{n, plural, one {# pivot table} other {# pivot tables}}',
  'formats.tables-with-a-name-of-their-own':
    '{n, plural, one {# table with a name of its own} other {# tables with a name of their own}}',
  'formats.form-controls': '{n, plural, one {# form control} other {# form controls}}',
  'formats.input-rules': '{n, plural, one {# input rule} other {# input rules}}',
  'formats.links-in-cells': '{n, plural, one {# link in a cell} other {# links in cells}}',
  'formats.filters': '{n, plural, one {# filter} other {# filters}}',
  'formats.sheet-protection': '{n, plural, one {# sheet protection} other {# sheet protection}}',
  'formats.merged-cells':
    '{n, plural, one {# merged cell (its content stays in the first one)} other {# merged cells (their content stays in the first one)}}',
  'formats.page-breaks': '{n, plural, one {# page break} other {# page breaks}}',
  'formats.page-headers-and-footers': '{n, plural, one {# page header or footer} other {# page headers and footers}}',
  'formats.formats-inside-a-cells-text':
    '{n, plural, one {# format inside a cell’s text} other {# formats inside a cell’s text}}',
  'formats.hidden-rows-and-columns': '{n, plural, one {# hidden row or column} other {# hidden rows and columns}}',
  'formats.row-heights': '{n, plural, one {# row height} other {# row heights}}',
  'formats.conditional-formats': '{n, plural, one {# conditional format} other {# conditional formats}}',
  'formats.array-formulas': '{n, plural, one {# array formula} other {# array formulas}}',
  'formats.data-tables': '{n, plural, one {# data table} other {# data tables}}',
  'formats.borders': '{n, plural, one {# border} other {# borders}}',
  'formats.sections': '{n, plural, one {# section} other {# sections}}',
  'formats.other': '{n, plural, other {# {feature}}}',
  'formats.near': '{what} (near {where})',
  'formats.this-file-is-damaged-it-has-no':
    'This file is damaged: it has no text body. It may be of another type than its name says.',
  'formats.this-file-is-damaged-its-part-is': 'This file is damaged: its part {part} is nested too deep.',
  'formats.this-file-is-damaged-its-part-is-2': 'This file is damaged: its part {part} is not well-formed ({message}).',
  'formats.this-file-is-damaged-its-part-is-3': 'This file is damaged: its part {part} is empty.',
  'formats.this-file-is-protected-by-a-password':
    'This file is protected by a password, which Jaula cannot open yet. It is kept as it is.',
  'formats.this-file-would-expand-to-more-than': 'This file would expand to more than {it} MB, so it is not opened.',
  'formats.not-in-it': 'Not in it, but kept in the file that it came of: {limits}.',
  'formats.would-lose': 'The next version would lose {limits}. Open it and save it there.',
  'formats.a-part-of-this-file-would-expand':
    'A part of this file would expand to hundreds of times its size, so it is not opened.',
  'formats.this-file-is-damaged': 'This file is damaged: {what}.',
  'formats.the-directory-at-its-end-is-missing': 'the directory at its end is missing, so it may have been cut off',
  'formats.it-has-too-many-parts': 'it has too many parts',
  'formats.its-directory-cannot-be-read': 'its directory cannot be read',
  'formats.this-file-is-protected-by-a-password-2': 'This file is protected by a password, which Jaula cannot open.',
  'formats.this-file-is-damaged-its-part-cannot': 'This file is damaged: its part {entryName} cannot be read.',
  'formats.this-file-is-packed-in-a-way': 'This file is packed in a way ({method}) that Jaula cannot read.',
  'formats.this-file-is-damaged-it-has-no-2':
    'This file is damaged: it has no workbook. It may be of another type than its name says.',
  'formats.this-file-is-damaged-its-sheet-is': 'This file is damaged: its sheet {name} is missing.',
  'formats.this-file-is-damaged-it-has-no-3': 'This file is damaged: it has no sheet.',
  'formats.this-file-is-damaged-its-sheet-is-2':
    'This file is damaged: its sheet {name} is not well-formed ({message}).',
  'formats.this-file-is-damaged-its-sheet-has': 'This file is damaged: its sheet {name} has a cell at {r}.',
  'formats.this-file-has-more-than-cells-which':
    'This file has more than {mostCells} cells, which is more than Jaula opens.',
  'formats.this-file-is-damaged-its-sheet-uses':
    'This file is damaged: its sheet {name} uses a text that is not there.',
  'formats.this-file-is-damaged-its-sheet-has-2':
    'This file is damaged: its sheet {name} has ‹{value}› where a number should be.',
  'formats.its-cells-are-too-far-apart':
    'This file is damaged: the cells of its sheet ‹{name}› are further apart than can be opened.',
  'formats.its-formulas-are-too-long': 'The formulas of the sheet ‹{name}› are longer together than can be opened.',
  'formats.its-table-has-too-many-columns': 'This file has a table with more columns than can be opened.',
  'formats.it-has-too-many-paragraphs': 'This file has more than {most} paragraphs, which is more than can be opened.',
  'formats.type-docx': 'Document (.docx)',
  'formats.type-docm': 'Document with macros (.docm)',
  'formats.type-dotx': 'Document template (.dotx)',
  'formats.type-dotm': 'Document template with macros (.dotm)',
  'formats.type-xlsm': 'Spreadsheet with macros (.xlsm)',
  'formats.type-xltx': 'Spreadsheet template (.xltx)',
  'formats.type-xltm': 'Spreadsheet template with macros (.xltm)',
  'formats.type-xlsx': 'Spreadsheet (.xlsx)',
  'formats.type-odt': 'OpenDocument text (.odt)',
  'formats.type-ods': 'OpenDocument spreadsheet (.ods)',
  'formats.type-csv': 'List of values (.csv)',
  'formats.type-txt': 'Plain text (.txt)',
  'formats.type-pdf': 'Portable document (.pdf)',
  'formats.type-image': 'Image (.{type})',
  'formats.type-other': '{type, select, none {File} other {File (.{type})}}',
  'formats.csv-no-text': 'This file is no text: it cannot be read as rows of values.',
  'formats.csv-too-many-rows': 'This file has more rows than a sheet can have ({rows, number}).',
  'formats.csv-too-many-columns': 'This file has more columns than a sheet can have ({columns, number}).',
  'formats.other-sheets': '{n, plural, one {# other sheet} other {# other sheets}}',
  'formats.formulas': '{n, plural, one {# formula (its result stays)} other {# formulas (their results stay)}}',
  'formats.looks-of-cells': '{n, plural, one {the look of # cell} other {the looks of # cells}}',
  'formats.number-formats': '{n, plural, one {# number format} other {# number formats}}',
  'formats.read-as-something-else':
    '{n, plural, one {# value that is read as something else} other {# values that are read as something else}}',
  'formats.type-tsv': 'Values with tabs (.tsv)',
  'formats.formulas-without-result':
    '{n, plural, one {# formula whose result is not known (nothing of it stays)} other {# formulas whose results are not known (nothing of them stays)}}',
  'formats.looks-of-text': '{n, plural, one {# look of text} other {# looks of text}}',
  'formats.looks-of-paragraphs': '{n, plural, one {# look of a paragraph} other {# looks of paragraphs}}',
  'formats.links-of-text': '{n, plural, one {# link (its text stays)} other {# links (their text stays)}}',
  'formats.headings': '{n, plural, one {# heading (its text stays)} other {# headings (their text stays)}}',
  'formats.lists': '{n, plural, one {# list (its text stays)} other {# lists (their text stays)}}',
  'formats.quotes': '{n, plural, one {# quote (its text stays)} other {# quotes (their text stays)}}',
  'formats.tables': '{n, plural, one {# table (its text stays)} other {# tables (their text stays)}}',
  'formats.no-text': 'This file is no text: it cannot be read as lines.',
  'formats.too-many-lines': 'This text has more lines than can be edited here ({n, number}).',
  'formats.breaks-inside-paragraphs':
    '{n, plural, one {# break inside a paragraph (it becomes a line)} other {# breaks inside paragraphs (they become lines)}}',
  'formats.page-set-up': 'its page’s size and margins',
  'formats.text-too-long': 'This text is longer than can be edited here ({n, number} letters).',
  'formats.this-file-is-damaged-its-parts': 'This file is damaged: its parts cannot be found.',
  'formats.this-file-is-damaged-its-texts': 'This file is damaged: its texts cannot be read.',
  'formats.this-file-is-damaged-its-records': 'This file is damaged: one of its records ends too soon.',
  'formats.older-than-can-be-read':
    'This file is of an older kind (from before 1997) than Jaula reads. It is kept as it is.',
  'formats.formulas-that-cannot-be-read':
    '{n, plural, one {# formula that cannot be read here (its result stays)} other {# formulas that cannot be read here (their results stay)}}',
  'formats.beyond-the-type':
    '{n, plural, one {# cell beyond what the type can hold} other {# cells beyond what the type can hold}}',
  'formats.borders-and-fonts': '{n, plural, one {# cell’s border or font} other {borders or fonts of # cells}}',
  'formats.type-xls': 'Spreadsheet of an older program (.xls)',
  'formats.type-doc': 'Document of an older program (.doc)',
  'formats.page-too-deep': 'This page is nested deeper, or has more parts, than Jaula opens. It is kept as it is.',
  'formats.scripts': '{n, plural, one {# script} other {# scripts}}',
  'formats.style-sheets': '{n, plural, one {# style sheet} other {# style sheets}}',
  'formats.hidden-parts': '{n, plural, one {# hidden part} other {# hidden parts}}',
  'formats.lines-across': '{n, plural, one {# line across the page} other {# lines across the page}}',
  'formats.images-from-elsewhere':
    '{n, plural, one {# image from elsewhere (it is not fetched)} other {# images from elsewhere (they are not fetched)}}',
  'formats.said-in-another-way':
    '{n, plural, one {# thing that a page says in another way} other {# things that a page says in another way}}',
  'formats.type-html': 'Web page (.html)',
  'formats.code': '{n, plural, one {# piece of code (its text stays)} other {# pieces of code (their text stays)}}',
  'formats.such-a-text-says':
    '{n, plural, one {# thing that such a text says in another way} other {# things that such a text says in another way}}',
  'formats.type-md': 'Text in Markdown (.md)',
  'formats.paragraphs-of-an-item':
    '{n, plural, one {# further paragraph of a list item (it becomes a line)} other {# paragraphs of list items (they become lines)}}',
  'formats.groups-of-lines': '{n, plural, one {# group of rows or columns} other {# groups of rows or columns}}',
  'formats.type-rtf': 'Rich text (.rtf)',
  'formats.text-boxes': '{n, plural, one {# text box (its text stays)} other {# text boxes (their text stays)}}',
  'formats.properties':
    '{n, plural, one {# property of the file (title, author, subject, keywords)} other {# properties of the file (title, author, subject, keywords)}}',
  'formats.letters-not-encoded': 'letters that this encoding has not (the file is UTF-8, with a mark)',
  'formats.page-without-tables': 'There is no table in this page.',
  'formats.type-ott': 'Text template of the open standard (.ott)',
  'formats.type-ots': 'Spreadsheet template of the open standard (.ots)',
  'formats.type-dot': 'Document template of an older program (.dot)',
  'formats.type-xlt': 'Spreadsheet template of an older program (.xlt)',
}
