export interface Shape {
  readonly rooms: readonly { readonly room: string; readonly files: number; readonly lines: number }[];
  /** Files that reach themselves by what they import at run time, in groups. */
  readonly circles: readonly (readonly string[])[];
  /** The same with imports of types. */
  readonly circlesOfTypes: readonly (readonly string[])[];
  readonly longFiles: readonly { readonly path: string; readonly lines: number }[];
  readonly longFunctions: readonly {
    readonly path: string;
    readonly name: string;
    readonly line: number;
    readonly lines: number;
  }[];
  /** Identifiers and strings outside of the folders of languages that name one. */
  readonly named: readonly { readonly path: string; readonly words: readonly string[] }[];
}
export function shapeOf(root: string): Shape;
