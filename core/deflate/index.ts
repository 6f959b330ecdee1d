// DEFLATE streams (RFC 1951) opened down to their tokens, and made again from them bit for bit.
//
// A stream is literals and references back (length, distance), cut into blocks, each with codes of its
// own. Opening keeps the tokens and, apart from them, how they are cut and coded. When a file is edited and
// packed again the tokens beyond the edit's window are the same as before, but every later block begins
// elsewhere and has other codes, so that no byte is the same; tokens can be shared between versions, bytes
// cannot. How tokens are cut and coded follows from the tokens by the rules of the compressor in nearly all
// streams (trees.ts); then the plan of a stream is a few bytes. What does not follow is in the plan as it
// stands. Making a stream again is counting and writing codes: no search for matches, which is the slow
// part of packing, and no dependence on any compressor's search staying as it is.
//
// A token is a number: below 256 a literal, otherwise length << 16 | distance.

export { DeflateMaker } from './make'
export { openDeflate } from './open'
export { type Block, type BlockKind, type Plan, packPlan, unpackPlan } from './plan'
export { resplice } from './resplice'
