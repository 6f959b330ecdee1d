// A chart in a workbook of the demo, written out by hand (ECMA-376 part 1, §21.2 and §20.5): the writer that makes the
// rest of the workbook makes none.
import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'

const office = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships'
const drawingMl = 'http://schemas.openxmlformats.org/drawingml/2006'
const head = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n'
const relationships = (kind: string, target: string) =>
  `${head}<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Id="rId1" Type="${office}/${kind}" Target="${target}"/></Relationships>`

export interface ChartPlace {
  title: string
  sheet: string
  /** References without the sheet: what is named along the axis, and how long each bar is. */
  names: string
  values: string
  /** Zero-based corners of the cells that it lies over. */
  from: { column: number; row: number }
  to: { column: number; row: number }
}

/** A workbook of one sheet, with bars over it. @param file one whose first sheet has no drawing yet */
export function withChart(file: Uint8Array, { title, sheet, names, values, from, to }: ChartPlace): Uint8Array {
  const parts = unzipSync(file)
  const absolute = (area: string) => `'${sheet}'!${area.replace(/([A-Z]+)(\d+)/g, '$$$1$$$2')}`
  const axis = (kind: 'catAx' | 'valAx', id: number, other: number, at: 'l' | 'b') =>
    `<c:${kind}><c:axId val="${id}"/><c:scaling><c:orientation val="minMax"/></c:scaling><c:delete val="0"/><c:axPos val="${at}"/><c:crossAx val="${other}"/></c:${kind}>`
  const corner = (name: string, { column, row }: ChartPlace['from']) =>
    `<xdr:${name}><xdr:col>${column}</xdr:col><xdr:colOff>0</xdr:colOff><xdr:row>${row}</xdr:row><xdr:rowOff>0</xdr:rowOff></xdr:${name}>`
  const chart =
    `${head}<c:chartSpace xmlns:c="${drawingMl}/chart" xmlns:a="${drawingMl}/main"><c:chart>` +
    `<c:title><c:tx><c:rich><a:bodyPr/><a:p><a:r><a:t>${title}</a:t></a:r></a:p></c:rich></c:tx><c:overlay val="0"/></c:title>` +
    '<c:plotArea><c:layout/><c:barChart><c:barDir val="bar"/><c:grouping val="clustered"/><c:varyColors val="0"/>' +
    `<c:ser><c:idx val="0"/><c:order val="0"/><c:cat><c:strRef><c:f>${absolute(names)}</c:f></c:strRef></c:cat>` +
    `<c:val><c:numRef><c:f>${absolute(values)}</c:f></c:numRef></c:val></c:ser><c:axId val="1"/><c:axId val="2"/></c:barChart>` +
    `${axis('catAx', 1, 2, 'l')}${axis('valAx', 2, 1, 'b')}</c:plotArea><c:plotVisOnly val="1"/></c:chart></c:chartSpace>`
  const drawing =
    `${head}<xdr:wsDr xmlns:xdr="${drawingMl}/spreadsheetDrawing" xmlns:a="${drawingMl}/main"><xdr:twoCellAnchor>${corner('from', from)}${corner('to', to)}` +
    `<xdr:graphicFrame macro=""><xdr:nvGraphicFramePr><xdr:cNvPr id="2" name="${title}"/><xdr:cNvGraphicFramePr/></xdr:nvGraphicFramePr>` +
    '<xdr:xfrm><a:off x="0" y="0"/><a:ext cx="0" cy="0"/></xdr:xfrm>' +
    `<a:graphic><a:graphicData uri="${drawingMl}/chart"><c:chart xmlns:c="${drawingMl}/chart" xmlns:r="${office}" r:id="rId1"/></a:graphicData></a:graphic>` +
    '</xdr:graphicFrame><xdr:clientData/></xdr:twoCellAnchor></xdr:wsDr>'
  const main = 'xl/worksheets/sheet1.xml'
  const edit = (part: string, change: (xml: string) => string) => {
    parts[part] = strToU8(change(strFromU8(parts[part]!)))
  }
  edit(main, (xml) => xml.replace('</worksheet>', `<drawing r:id="rId1"/></worksheet>`))
  edit('[Content_Types].xml', (xml) =>
    xml.replace(
      '</Types>',
      '<Override PartName="/xl/drawings/drawing1.xml" ContentType="application/vnd.openxmlformats-officedocument.drawing+xml"/>' +
        '<Override PartName="/xl/charts/chart1.xml" ContentType="application/vnd.openxmlformats-officedocument.drawingml.chart+xml"/></Types>',
    ),
  )
  parts['xl/worksheets/_rels/sheet1.xml.rels'] = strToU8(relationships('drawing', '../drawings/drawing1.xml'))
  parts['xl/drawings/drawing1.xml'] = strToU8(drawing)
  parts['xl/drawings/_rels/drawing1.xml.rels'] = strToU8(relationships('chart', '../charts/chart1.xml'))
  parts['xl/charts/chart1.xml'] = strToU8(chart)
  return zipSync(parts)
}
