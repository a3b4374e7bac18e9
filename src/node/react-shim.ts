/**
 * Just enough of React's types for a project whose packages are not installed: without them every state would be `any`.
 * Only ever seen by the type checker, and only when `react` cannot be resolved.
 */
export const REACT_SHIM = `
declare module 'react' {
  export type ReactNode = string | number | boolean | null | undefined | ReactElement | Iterable<ReactNode>;
  export interface ReactElement { type: any; props: any; key: string | null }
  export type SetStateAction<S> = S | ((previous: S) => S);
  export type Dispatch<A> = (value: A) => void;
  export interface RefObject<T> { current: T }
  export interface MutableRefObject<T> { current: T }
  export interface Context<T> { Provider: any; Consumer: any }
  export type FC<P = {}> = (props: P) => ReactNode;
  export type FunctionComponent<P = {}> = FC<P>;
  export type ComponentType<P = {}> = FC<P> | (new (props: P) => Component<P>);
  export type PropsWithChildren<P = unknown> = P & { children?: ReactNode };
  export type CSSProperties = Record<string, string | number | undefined>;
  export class Component<P = {}, S = {}> {
    constructor(props: P);
    props: Readonly<P> & { children?: ReactNode };
    state: Readonly<S>;
    setState(state: Partial<S> | ((state: S, props: P) => Partial<S> | null) | null, after?: () => void): void;
    forceUpdate(): void;
  }
  export class PureComponent<P = {}, S = {}> extends Component<P, S> {}
  export function useState<S>(initial: S | (() => S)): [S, Dispatch<SetStateAction<S>>];
  export function useState<S = undefined>(): [S | undefined, Dispatch<SetStateAction<S | undefined>>];
  export function useReducer<S, A>(reducer: (state: S, action: A) => S, initial: S): [S, Dispatch<A>];
  export function useReducer(reducer: any, initial: any, init?: any): [any, Dispatch<any>];
  export function useRef<T>(initial: T): RefObject<T>;
  export function useRef<T>(initial: T | null): RefObject<T | null>;
  export function useRef<T = undefined>(): RefObject<T | undefined>;
  export function useMemo<T>(make: () => T, needs: readonly unknown[]): T;
  export function useCallback<T extends Function>(fn: T, needs: readonly unknown[]): T;
  export function useContext<T>(context: Context<T>): T;
  export function useEffect(run: () => void | (() => void), needs?: readonly unknown[]): void;
  export function useLayoutEffect(run: () => void | (() => void), needs?: readonly unknown[]): void;
  export function useId(): string;
  export function createContext<T>(initial: T): Context<T>;
  export function createRef<T>(): RefObject<T | null>;
  export function memo<T>(component: T): T;
  export function forwardRef<T, P = {}>(render: (props: P, ref: any) => ReactNode): FC<P & { ref?: any }>;
  export function lazy<T>(load: () => Promise<{ default: T }>): T;
  export const Fragment: any;
  export const StrictMode: any;
  export const Suspense: any;
  export const Children: any;
  export function cloneElement(element: any, props?: any, ...children: any[]): ReactElement;
  export function createElement(type: any, props?: any, ...children: any[]): ReactElement;
  export function isValidElement(value: unknown): value is ReactElement;
  export type ChangeEvent<T = any> = any;
  export type MouseEvent<T = any, E = any> = any;
  export type FormEvent<T = any> = any;
  export type KeyboardEvent<T = any> = any;
  export type FocusEvent<T = any> = any;
  export namespace JSX {
    type Element = ReactElement;
    interface ElementChildrenAttribute { children: {} }
    interface IntrinsicAttributes { key?: string | number | bigint | null }
    interface IntrinsicClassAttributes<T> { ref?: any }
    interface IntrinsicElements { [name: string]: any }
  }
  const React: any;
  export default React;
}
declare module 'react/jsx-runtime' {
  export { JSX } from 'react';
}
declare namespace JSX {
  type Element = import('react').ReactElement;
  interface ElementChildrenAttribute { children: {} }
  interface IntrinsicAttributes { key?: string | number | bigint | null }
  interface IntrinsicClassAttributes<T> { ref?: any }
  interface IntrinsicElements { [name: string]: any }
}
`;
