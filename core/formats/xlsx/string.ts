// ST_Xstring (ECMA-376 part 1, §22.9.2.19): what XML cannot hold stands as _xHHHH_, and text
// that looks like that has its underscore escaped.
import { escapeText } from '../opc/xml'

const unstorable =
  /_(?=x[0-9A-Fa-f]{4}_)|[\u0000-\u0008\u000b\u000c\u000d\u000e-\u001f\ufffe\uffff]|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g

/** Any string with only what XML can hold in it; not yet escaped for XML. */
export const encodeString = (text: string): string =>
  text.replace(unstorable, (symbol) => `_x${symbol.charCodeAt(0).toString(16).toUpperCase().padStart(4, '0')}_`)
/** Any string as the text of an element. */
export const escapeString = (text: string): string => escapeText(encodeString(text))
export const unescapeString = (text: string): string =>
  text.includes('_x')
    ? text.replace(/_x([0-9A-Fa-f]{4})_/g, (_, code: string) => String.fromCharCode(Number.parseInt(code, 16)))
    : text
