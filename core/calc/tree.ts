// A formula as a tree (`@borgar/fx`), with its functions by the names that they have now.
import { type AstExpression, parse, type Token, tokenize } from '@borgar/fx/xlsx'

const mostLetters = 60_000
/** The prefixes of functions and parameters that came after the standard's first edition. */
const prefix = /^(?:_xlfn\.|_xlws\.|_xludf\.|_xlpm\.)+/i

/** What the engine cannot be told; its message says what. */
export class Unsupported extends Error {}
export const unsupported = (what: string): never => {
  throw new Unsupported(what)
}

/** A formula's tree. @throws Unsupported */
export function treeOf(formula: string): AstExpression {
  if (formula.length > mostLetters) return unsupported('…')
  const tokens: Token[] = tokenize(formula, { mergeRefs: true })
    .map((token) =>
      token.type === 'func' || token.type === 'range_named'
        ? { ...token, value: token.value.replace(prefix, '') }
        : token,
    )
    // A reference that is gone is gone, whichever sheet it was on.
    .filter((token, index, all) => {
      const gone = all[index + (token.value === '!' ? 1 : 2)]?.type === 'error'
      return !(gone && (token.value === '!' || (token.type.startsWith('context') && all[index + 1]?.value === '!')))
    })
  try {
    return parse(tokens, { permitArrayCalls: false })
  } catch {
    return unsupported(formula.slice(0, 40))
  }
}

/** The name that a call calls; what is called by its result is none. */
export const calledOf = ({ callee }: { callee: { type: string; name: string } }): string =>
  callee.type === 'Identifier' ? callee.name.replace(prefix, '').toUpperCase() : 'LAMBDA'
const truth = (value: boolean): AstExpression => ({ type: 'Literal', raw: String(value).toUpperCase(), value })
/** A function by the name that it has now, with the arguments that its older name went without. */
export function withNewerName(name: string, args: AstExpression[]): [name: string, args: AstExpression[]] {
  switch (name) {
    case 'NORMSDIST':
      return ['NORM.S.DIST', [...args, truth(true)]]
    case 'LOGNORMDIST':
      return ['LOGNORM.DIST', [...args, truth(true)]]
    case 'BETADIST':
      return ['BETA.DIST', [...args.slice(0, 3), truth(true), ...args.slice(3)]]
    case 'NEGBINOMDIST':
      return ['NEGBINOM.DIST', [...args, truth(false)]]
    case 'HYPGEOMDIST':
      return ['HYPGEOM.DIST', [...args, truth(false)]]
    case 'ERF.PRECISE':
      return ['ERF', args]
    case 'ERFC.PRECISE':
      return ['ERFC', args]
    case 'DATEDIF':
      return [
        name,
        args.map((arg) =>
          arg?.type === 'Literal' && typeof arg.value === 'string' ? { ...arg, value: arg.value.toUpperCase() } : arg,
        ),
      ]
    default:
      return [name, args]
  }
}
/** All parts of texts that are put together. */
export function joined(tree: AstExpression): AstExpression[] {
  if (tree.type !== 'BinaryExpression' || tree.operator !== '&') return [tree]
  return (tree.arguments as AstExpression[]).flatMap(joined)
}
