// Functions that came after the first edition of the standard stand in files with a prefix, or readers of the standard
// do not know them; nobody types it. (ECMA-376 keeps `_xl` for implementations; the names are those that files use.)
const later = new Set(
  `ACOT ACOTH AGGREGATE ARABIC ARRAYTOTEXT BASE BETA.DIST BETA.INV BINOM.DIST BINOM.DIST.RANGE BINOM.INV BITAND
  BITLSHIFT BITOR BITRSHIFT BITXOR BYCOL BYROW CEILING.MATH CEILING.PRECISE CHISQ.DIST CHISQ.DIST.RT CHISQ.INV
  CHISQ.INV.RT CHISQ.TEST CHOOSECOLS CHOOSEROWS COMBINA CONCAT CONFIDENCE.NORM CONFIDENCE.T COT COTH COVARIANCE.P
  COVARIANCE.S CSC CSCH DAYS DECIMAL DROP ENCODEURL ERF.PRECISE ERFC.PRECISE EXPAND EXPON.DIST F.DIST F.DIST.RT F.INV
  F.INV.RT F.TEST FILTERXML FLOOR.MATH FLOOR.PRECISE FORECAST.ETS FORECAST.ETS.CONFINT FORECAST.ETS.SEASONALITY
  FORECAST.ETS.STAT FORECAST.LINEAR FORMULATEXT GAMMA GAMMA.DIST GAMMA.INV GAMMALN.PRECISE GAUSS HSTACK HYPGEOM.DIST
  IFNA IFS IMCOSH IMCOT IMCSC IMCSCH IMSEC IMSECH IMSINH IMTAN ISFORMULA ISO.CEILING ISOMITTED ISOWEEKNUM LAMBDA LET
  LOGNORM.DIST LOGNORM.INV MAKEARRAY MAP MAXIFS MINIFS MODE.MULT MODE.SNGL MUNIT NEGBINOM.DIST NETWORKDAYS.INTL
  NORM.DIST NORM.INV NORM.S.DIST NORM.S.INV NUMBERVALUE PDURATION PERCENTILE.EXC PERCENTILE.INC PERCENTRANK.EXC
  PERCENTRANK.INC PERMUTATIONA PHI POISSON.DIST QUARTILE.EXC QUARTILE.INC RANDARRAY RANK.AVG RANK.EQ REDUCE RRI SCAN
  SEC SECH SEQUENCE SHEET SHEETS SINGLE SKEW.P SORTBY STDEV.P STDEV.S SWITCH T.DIST T.DIST.2T T.DIST.RT T.INV T.INV.2T
  T.TEST TAKE TEXTAFTER TEXTBEFORE TEXTJOIN TEXTSPLIT TOCOL TOROW UNICHAR UNICODE UNIQUE VALUETOTEXT VAR.P VAR.S VSTACK
  WEBSERVICE WEIBULL.DIST WORKDAY.INTL WRAPCOLS WRAPROWS XLOOKUP XMATCH XOR Z.TEST`.split(/\s+/),
)
/** These stand behind a prefix of their own. */
const laterOfSheets = new Set(['FILTER', 'SORT'])
const texts = /"(?:[^"]|"")*"|'(?:[^']|'')+'/
const pieces = new RegExp(`(${texts.source})`)
const called = /(?<![\p{L}\p{N}_.])([A-Z][A-Z0-9.]*)(?=\()/giu
const prefixed = /(?<![\p{L}\p{N}_.])(?:_xlfn\.(?:_xlws\.)?|_xlpm\.)(?=[\p{L}_])/giu

/** A formula outside its texts and its sheets' names. */
const outside = (formula: string, change: (part: string) => string): string =>
  formula
    .split(pieces)
    .map((part, index) => (index % 2 ? part : change(part)))
    .join('')

/** A formula as a person types it: its functions by their names. */
export const typedFormula = (formula: string): string =>
  formula.includes('_xl') ? outside(formula, (part) => part.replace(prefixed, '')) : formula

/** A formula as files hold it. Parameters (LET, LAMBDA) are told from names by `_xlpm.`, too. */
export function filedFormula(formula: string): string {
  const filed = outside(formula, (part) =>
    part.replace(called, (name) => {
      const upper = name.toUpperCase()
      return laterOfSheets.has(upper) ? `_xlfn._xlws.${upper}` : later.has(upper) ? `_xlfn.${upper}` : name
    }),
  )
  return filed === formula ? formula : withParameters(filed)
}

/** The names that LET and LAMBDA give, marked as theirs. */
function withParameters(formula: string): string {
  const given = new Set<string>()
  for (const call of formula.matchAll(/_xlfn\.(LET|LAMBDA)\(/g)) {
    const parts = argumentsFrom(formula, call.index + call[0].length).slice(0, -1)
    for (const [index, part] of parts.entries())
      if ((call[1] === 'LAMBDA' || index % 2 === 0) && /^\s*[\p{L}_][\p{L}\p{N}_]*\s*$/u.test(part))
        given.add(part.trim())
  }
  let marked = formula
  for (const name of given)
    marked = outside(marked, (part) =>
      part.replace(new RegExp(`(?<![\\p{L}\\p{N}_.!])${name}(?![\\p{L}\\p{N}_.!(])`, 'giu'), `_xlpm.${name}`),
    )
  return marked
}
/** The arguments of a call, from behind its parenthesis on. */
function argumentsFrom(formula: string, from: number): string[] {
  const parts: string[] = []
  let depth = 0
  let start = from
  for (let at = from; at < formula.length; at++) {
    const letter = formula[at]!
    if (letter === '"' || letter === "'") {
      const end = formula.indexOf(letter, at + 1)
      if (end < 0) break
      at = end
    } else if ('({['.includes(letter)) depth++
    else if (')}]'.includes(letter)) {
      if (depth-- === 0) return [...parts, formula.slice(start, at)]
    } else if (letter === ',' && depth === 0) {
      parts.push(formula.slice(start, at))
      start = at + 1
    }
  }
  return [...parts, formula.slice(start)]
}
