// Functions that the engine does not have, or has otherwise than the standard: how one is written down, and how its
// arguments and its result cross over.
import {
  CellError,
  EmptyValue,
  ErrorType,
  FunctionArgumentType,
  type FunctionMetadata,
  FunctionPlugin,
  type FunctionPluginDefinition,
  SimpleRangeValue,
} from 'hyperformula'

/** What a cell holds; null for nothing. */
export type Plain = number | string | boolean | null
export type ErrorName = '#NULL!' | '#DIV/0!' | '#VALUE!' | '#REF!' | '#NAME?' | '#NUM!' | '#N/A'
/** A function's own refusal. */
export class Fault extends Error {
  constructor(readonly error: ErrorName) {
    super(error)
  }
}
export const fault = (error: ErrorName): never => {
  throw new Fault(error)
}

/** Facts of cells that their values do not tell, by the rows and columns of an area. */
export interface Standing {
  /** A subtotal itself, which is not counted twice. */
  isSubtotal(row: number, column: number): boolean
  hidden(row: number): 'by hand' | 'by a filter' | null
}
/** What the engine is given beside its cells: the rows that are not shown, by sheet's name. */
export interface EngineContext {
  hidden(sheet: string): ReadonlyMap<number, boolean> | undefined
}

/** Cells, row by row, and what can be told of them faster than by looking at each. */
export class Cells {
  private texts: Map<number, Map<string, number[]>> | null = null
  private numbers: Map<number, Map<number, number[]>> | null = null
  constructor(
    readonly rows: readonly (readonly (Plain | Fault)[])[],
    /** What is known of where they stand; null for cells that were calculated. */
    readonly standing: Standing | null = null,
  ) {}
  get height(): number {
    return this.rows.length
  }
  get width(): number {
    return this.rows[0]?.length ?? 0
  }
  /** All values, row after row. @throws Fault the first that there is */
  get values(): Plain[] {
    return this.rows.flatMap((row) =>
      row.map((value) => {
        if (value instanceof Fault) throw value
        return value
      }),
    )
  }
  /** Every number; what is no number in a cell does not count. */
  get figures(): number[] {
    return this.values.filter((value) => typeof value === 'number')
  }
  /** Rows in which a column has this text, whatever its case. */
  rowsWithText(column: number, text: string): readonly number[] {
    return this.index(column).texts.get(text.toLowerCase()) ?? []
  }
  rowsWithNumber(column: number, number: number): readonly number[] {
    return this.index(column).numbers.get(number) ?? []
  }
  private index(column: number): { texts: Map<string, number[]>; numbers: Map<number, number[]> } {
    this.texts ??= new Map()
    this.numbers ??= new Map()
    let texts = this.texts.get(column)
    let numbers = this.numbers.get(column)
    if (!texts || !numbers) {
      texts = new Map()
      numbers = new Map()
      for (const [row, line] of this.rows.entries()) {
        const value = line[column]
        if (typeof value === 'string') put(texts, value.toLowerCase(), row)
        else if (typeof value === 'number') put(numbers, value, row)
      }
      this.texts.set(column, texts)
      this.numbers.set(column, numbers)
    }
    return { texts, numbers }
  }
}
function put<K>(map: Map<K, number[]>, key: K, row: number): void {
  const list = map.get(key)
  if (list) list.push(row)
  else map.set(key, [row])
}

/** An argument: a number, a text, a truth, a value without or with its errors, cells, or values and cells; `?`: it may be absent. */
type Take = 'number' | 'text' | 'truth' | 'value' | 'outcome' | 'cells' | 'anything'
// biome-ignore lint/suspicious/noExplicitAny: what a function takes is said by its list, which types cannot follow.
type Run = (...args: any[]) => Plain | readonly (readonly (Plain | Fault)[])[] | Fault
export interface Definition {
  /** Such as `cells number number?`. */
  takes: string
  /** So many of the last arguments come again and again. */
  repeats?: number
  /** Other names of the same. */
  also?: string[]
  run: Run
}
export type Definitions = Record<string, Definition>

const errorTypes: Record<ErrorName, ErrorType> = {
  '#NULL!': ErrorType.ERROR,
  '#DIV/0!': ErrorType.DIV_BY_ZERO,
  '#VALUE!': ErrorType.VALUE,
  '#REF!': ErrorType.REF,
  '#NAME?': ErrorType.NAME,
  '#NUM!': ErrorType.NUM,
  '#N/A': ErrorType.NA,
}
const errorNames = new Map<string, ErrorName>(
  Object.entries(errorTypes).map(([name, type]) => [type as string, name as ErrorName]),
)
const argumentTypes: Record<Take, FunctionArgumentType> = {
  number: FunctionArgumentType.NUMBER,
  text: FunctionArgumentType.STRING,
  truth: FunctionArgumentType.BOOLEAN,
  value: FunctionArgumentType.NOERROR,
  outcome: FunctionArgumentType.SCALAR,
  cells: FunctionArgumentType.RANGE,
  anything: FunctionArgumentType.ANY,
}

/** A value of the engine as a plain one. */
export function plainOf(value: unknown): Plain | Fault {
  if (value === EmptyValue || value === undefined || value === null) return null
  if (value instanceof CellError) return new Fault(errorNames.get(value.type as string) ?? '#VALUE!')
  if (typeof value === 'object' && 'val' in value) return (value as { val: number }).val
  return value as Plain
}
/** A longer text is none that a cell can hold. */
export const longestText = 32_767
const engineValue = (value: Plain | Fault): never =>
  typeof value === 'string' && value.length > longestText
    ? engineValue(new Fault('#VALUE!'))
    : ((value instanceof Fault ? new CellError(errorTypes[value.error]) : value === null ? EmptyValue : value) as never)

interface RangeVertex {
  getFunctionValue(name: string): unknown
  setFunctionValue(name: string, value: unknown): void
}
const kept = 'cells as they are'

/** @returns a plugin with all of these functions, for `HyperFormula.registerFunctionPlugin` */
export function pluginOf(all: Definitions): { plugin: FunctionPluginDefinition; names: Record<string, string> } {
  const implementedFunctions: Record<string, FunctionMetadata> = {}
  const names: Record<string, string> = {}
  class Functions extends FunctionPlugin {
    static override implementedFunctions = implementedFunctions
    /** Cells once for all who read them, until one of them changes: the engine forgets it then. */
    cells(value: SimpleRangeValue): Cells {
      const { range } = value
      const vertex = range && (this.dependencyGraph.getRange(range.start, range.end) as RangeVertex | undefined)
      const known = vertex?.getFunctionValue(kept) as Cells | undefined
      if (known) return known
      const cells = new Cells(
        value.data.map((row) => row.map(plainOf)),
        range ? this.standing(range.start) : null,
      )
      vertex?.setFunctionValue(kept, cells)
      return cells
    }
    private standing({ sheet, row, col }: { sheet: number; row: number; col: number }): Standing {
      const named = this.dependencyGraph.sheetMapping.getSheetName(sheet)
      const hidden = named === undefined ? undefined : (this.config.context as EngineContext | undefined)?.hidden(named)
      return {
        isSubtotal: (down, across) =>
          /\b(?:SUBTOTAL|AGGREGATE)\(/.test(
            this.serialization.getCellFormula({ sheet, row: row + down, col: col + across }) ?? '',
          ),
        hidden: (down) => {
          const filtered = hidden?.get(row + down)
          return filtered === undefined ? null : filtered ? 'by a filter' : 'by hand'
        },
      }
    }
  }
  for (const [name, definition] of Object.entries(all)) {
    const takes = definition.takes.split(' ').filter(Boolean)
    const method = `of${name.replaceAll('.', '_')}`
    implementedFunctions[name] = {
      method,
      vectorizationForbidden: false,
      parameters: takes.map((take) => ({
        argumentType: argumentTypes[take.replace('?', '') as Take],
        ...(take.endsWith('?') && { optionalArg: true }),
      })),
      ...(definition.repeats !== undefined && { repeatLastArgs: definition.repeats }),
    }
    Object.defineProperty(Functions.prototype, method, {
      value(this: Functions, ast: { args: never[] }, state: never) {
        return this.runFunction(ast.args, state, this.metadata(name), (...given: unknown[]) => {
          try {
            const args = given.map((one) =>
              one instanceof SimpleRangeValue ? this.cells(one) : one === undefined ? undefined : plainOf(one),
            )
            const result = definition.run(...args)
            if (Array.isArray(result))
              return SimpleRangeValue.onlyValues(
                (result as (Plain | Fault)[][]).map((row) => row.map(engineValue)),
              ) as never
            if (typeof result === 'number' && !Number.isFinite(result)) return engineValue(new Fault('#NUM!'))
            return engineValue(result as Plain | Fault)
          } catch (error) {
            if (error instanceof Fault) return engineValue(error)
            // A text that is longer than there can be one.
            if (error instanceof RangeError) return engineValue(new Fault('#VALUE!'))
            throw error
          }
        })
      },
    })
    names[name] = name
    for (const other of definition.also ?? []) {
      implementedFunctions[other] = implementedFunctions[name]!
      names[other] = other
    }
  }
  return { plugin: Functions as never, names }
}
