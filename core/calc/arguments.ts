// How functions take their arguments, as far as the engine has to be told.
/** Evaluate their arguments as arrays, also where the formula is none (OpenFormula 1.2 §3.3, "ForceArray"). */
export const forcing = new Set(
  'SUMPRODUCT MMULT MINVERSE MDETERM LOOKUP MATCH XMATCH XLOOKUP FREQUENCY LINEST LOGEST TREND GROWTH TRANSPOSE MODE.MULT PROB SUMX2MY2 SUMX2PY2 SUMXMY2 CORREL COVAR FILTER SORT SORTBY UNIQUE AGGREGATE'.split(
    ' ',
  ),
)
/** Result in an array, of which a formula that is none takes the first. */
export const arrays = new Set(
  'MMULT MINVERSE MUNIT FREQUENCY LINEST LOGEST TREND GROWTH TRANSPOSE MODE.MULT FILTER SORT SORTBY UNIQUE SEQUENCE RANDARRAY CHOOSECOLS CHOOSEROWS TAKE DROP EXPAND VSTACK HSTACK TOCOL TOROW WRAPROWS WRAPCOLS TEXTSPLIT'.split(
    ' ',
  ),
)
/** Take any number of areas, so that a list of them can stand for one. */
export const manyAreas = new Set(
  'SUM AVERAGE AVERAGEA COUNT COUNTA MAX MAXA MIN MINA PRODUCT STDEV STDEVA STDEV.S STDEVP STDEVPA STDEV.P VAR VARA VAR.S VARP VARPA VAR.P SUMSQ MEDIAN GEOMEAN HARMEAN DEVSQ AVEDEV KURT SKEW AND OR CONCAT'.split(
    ' ',
  ),
)
/** Ask of cells more than their values. */
export const countsShown = new Set(['SUBTOTAL', 'AGGREGATE'])
export const subtotal = /\b(?:SUBTOTAL|AGGREGATE)\(/i
