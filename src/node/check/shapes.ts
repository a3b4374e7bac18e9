/** The type of what a component takes, as data: enough to make values of it. */
import type TS from 'typescript';

export type Shape =
  | { readonly kind: 'string' | 'number' | 'boolean' | 'nothing' | 'date' | 'node' | 'unknown' }
  | { readonly kind: 'literal'; readonly value: string | number | boolean | null }
  | { readonly kind: 'union'; readonly of: readonly Shape[] }
  | { readonly kind: 'list'; readonly item: Shape }
  | { readonly kind: 'tuple'; readonly items: readonly Shape[] }
  | { readonly kind: 'record'; readonly members: readonly Member[] }
  | { readonly kind: 'function'; readonly returns: Shape };

export interface Member {
  readonly name: string;
  readonly optional: boolean;
  readonly shape: Shape;
}

/** Deeper than that, records are empty and lists as well. */
const DEPTH = 5;
const NODES = /^(?:ReactNode|ReactElement|Element|ReactChild|VNode|VNodeChild|VNodeArrayChildren)$/;

/** What the component `name` of a file takes; undefined where its type is not known. */
export function propsShape(
  ts: typeof TS,
  checker: TS.TypeChecker,
  source: TS.SourceFile,
  name: string,
): Shape | undefined {
  const type = definedProps(ts, checker, source) ?? takenBy(ts, checker, source, name);
  if (!type) return undefined;
  if (type.flags & (ts.TypeFlags.Any | ts.TypeFlags.Unknown)) return undefined;
  return shapeOf(ts, checker, type, DEPTH);
}

/** `defineProps<…>()`. */
function definedProps(ts: typeof TS, checker: TS.TypeChecker, source: TS.SourceFile): TS.Type | undefined {
  let found: TS.Type | undefined;
  const visit = (node: TS.Node): void => {
    if (ts.isCallExpression(node) && node.expression.getText(source) === 'defineProps' && node.typeArguments?.[0])
      found = checker.getTypeFromTypeNode(node.typeArguments[0]);
    if (!found) ts.forEachChild(node, visit);
  };
  visit(source);
  return found;
}

/** The first parameter of a function, or the props of a class, whatever is wrapped around it. */
function takenBy(ts: typeof TS, checker: TS.TypeChecker, source: TS.SourceFile, name: string): TS.Type | undefined {
  const exported = checker.getSymbolAtLocation(source);
  const symbols = exported ? checker.getExportsOfModule(exported) : [];
  const symbol =
    symbols.find((s) => s.name === name) ??
    symbols.find((s) => s.name === 'default' && nameOf(s) === name) ??
    symbols.find((s) => s.name === 'default');
  if (!symbol) return undefined;
  const declared = symbol.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(symbol) : symbol;
  const type = checker.getTypeOfSymbolAtLocation(declared, source);
  const call = type.getCallSignatures()[0];
  if (call) {
    const parameter = call.parameters[0];
    return parameter ? checker.getTypeOfSymbolAtLocation(parameter, source) : checker.getVoidType();
  }
  const instance = type.getConstructSignatures()[0]?.getReturnType();
  const props = instance?.getProperty('props');
  return props && checker.getTypeOfSymbolAtLocation(props, source);
}

function nameOf(symbol: TS.Symbol): string | undefined {
  const declaration = symbol.declarations?.[0] as { name?: { text?: string } } | undefined;
  return declaration?.name?.text;
}

function shapeOf(ts: typeof TS, checker: TS.TypeChecker, type: TS.Type, depth: number): Shape {
  const { TypeFlags } = ts;
  const inner = (t: TS.Type) => shapeOf(ts, checker, t, depth - 1);
  const alias = type.aliasSymbol?.name ?? type.getSymbol()?.name ?? '';
  if (NODES.test(alias)) return { kind: 'node' };
  if (type.flags & (TypeFlags.Undefined | TypeFlags.Void | TypeFlags.Never)) return { kind: 'nothing' };
  if (type.flags & TypeFlags.Null) return { kind: 'literal', value: null };
  if (type.isStringLiteral() || type.isNumberLiteral()) return { kind: 'literal', value: type.value };
  if (type.flags & TypeFlags.BooleanLiteral) return { kind: 'literal', value: checker.typeToString(type) === 'true' };
  if (type.flags & TypeFlags.Boolean) return { kind: 'boolean' };
  if (type.flags & TypeFlags.StringLike) return { kind: 'string' };
  if (type.flags & TypeFlags.NumberLike) return { kind: 'number' };
  if (type.isUnion()) return { kind: 'union', of: type.types.map((t) => shapeOf(ts, checker, t, depth)) };
  if (alias === 'Date') return { kind: 'date' };
  const call = type.getCallSignatures()[0];
  if (call) return { kind: 'function', returns: depth > 0 ? inner(call.getReturnType()) : { kind: 'nothing' } };
  if (checker.isTupleType(type))
    return { kind: 'tuple', items: depth > 0 ? checker.getTypeArguments(type as TS.TypeReference).map(inner) : [] };
  if (checker.isArrayType(type)) {
    const item = checker.getTypeArguments(type as TS.TypeReference)[0];
    return item && depth > 0 ? { kind: 'list', item: inner(item) } : { kind: 'tuple', items: [] };
  }
  if (type.flags & (TypeFlags.Object | TypeFlags.Intersection)) {
    // Attributes of elements and what the platform gives have too many members to be meant.
    const properties = checker.getPropertiesOfType(type);
    const isPlatform = properties.length > 60 || isDeclaredOutside(type);
    return {
      kind: 'record',
      members: (depth > 0 && !isPlatform ? properties : []).map((p) => {
        const declaration = p.valueDeclaration ?? p.declarations?.[0];
        const of = declaration ? checker.getTypeOfSymbolAtLocation(p, declaration) : checker.getTypeOfSymbol(p);
        return { name: p.name, optional: Boolean(p.flags & ts.SymbolFlags.Optional), shape: inner(of) };
      }),
    };
  }
  return { kind: 'unknown' };
}

function isDeclaredOutside(type: TS.Type): boolean {
  const file = type.getSymbol()?.declarations?.[0]?.getSourceFile().fileName ?? '';
  return /\/typescript\/lib\/|\/@types\/react\//.test(file);
}
