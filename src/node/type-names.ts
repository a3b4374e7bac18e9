/** Where the names in the text of a type come from, when the asking file does not know them. */
import type TS from 'typescript';

export type Origin = { readonly module: string } | { readonly file: string };

/** Symbols that a type mentions, by name: its alias, its parts, its arguments, what its functions take and give. */
export function symbolsIn(ts: typeof TS, checker: TS.TypeChecker, type: TS.Type): Map<string, TS.Symbol> {
  const found = new Map<string, TS.Symbol>();
  const seen = new Set<TS.Type>();
  const note = (symbol: TS.Symbol | undefined) => {
    if (symbol && /^[A-Za-z_$]/.test(symbol.name) && !symbol.name.startsWith('__') && !found.has(symbol.name))
      found.set(symbol.name, symbol);
  };
  const visit = (part: TS.Type, depth: number): void => {
    if (depth > 6 || seen.has(part)) return;
    seen.add(part);
    note(part.aliasSymbol);
    note(part.symbol);
    for (const argument of part.aliasTypeArguments ?? []) visit(argument, depth + 1);
    if (part.isUnionOrIntersection()) for (const member of part.types) visit(member, depth + 1);
    if (part.flags & ts.TypeFlags.Object) {
      for (const argument of checker.getTypeArguments(part as TS.TypeReference)) visit(argument, depth + 1);
    }
    if (
      part.symbol &&
      !(part.symbol.flags & (ts.SymbolFlags.TypeLiteral | ts.SymbolFlags.Function | ts.SymbolFlags.Method))
    )
      return;
    for (const signature of part.getCallSignatures()) {
      for (const parameter of signature.parameters) visit(checker.getTypeOfSymbol(parameter), depth + 1);
      visit(signature.getReturnType(), depth + 1);
    }
    for (const property of part.getProperties()) visit(checker.getTypeOfSymbol(property), depth + 1);
  };
  visit(type, 0);
  return found;
}

/** The module that exports a symbol under its own name; undefined when none does. */
export function originOf(checker: TS.TypeChecker, symbol: TS.Symbol): Origin | undefined {
  const holder = (symbol as TS.Symbol & { parent?: TS.Symbol }).parent;
  if (!holder) return undefined;
  // `export = React; namespace React { … }` exports its members through the module that holds the namespace.
  const exported = checker.getExportsOfModule(holder).some((e) => e.name === symbol.name);
  const ambient = /^"(.*)"$/.exec(holder.name)?.[1];
  const file = symbol.declarations?.[0]?.getSourceFile().fileName;
  if (!exported || file === undefined) return undefined;
  return ambient !== undefined && !/^(?:[a-zA-Z]:)?\//.test(ambient) ? { module: ambient } : { file };
}
