/**
 * Just enough of Vue's types for a project whose packages are not installed. Only ever seen by the type checker, and only
 * when `vue` cannot be resolved.
 */
export const VUE_SHIM = `
declare module 'vue' {
  export interface Ref<T = any> { value: T }
  export interface ComputedRef<T = any> extends Ref<T> {}
  export type ShallowUnwrapRef<T> = { [K in keyof T]: T[K] extends Ref<infer V> ? V : T[K] };
  export function ref<T>(value: T): Ref<T>;
  export function ref<T = any>(): Ref<T | undefined>;
  export function shallowRef<T>(value: T): Ref<T>;
  export function shallowRef<T = any>(): Ref<T | undefined>;
  export function reactive<T extends object>(target: T): T;
  export function readonly<T extends object>(target: T): Readonly<T>;
  export function computed<T>(getter: () => T): ComputedRef<T>;
  export function computed<T>(options: { get: () => T; set: (value: T) => void }): Ref<T>;
  export function toRef<T extends object, K extends keyof T>(object: T, key: K): Ref<T[K]>;
  export function toRefs<T extends object>(object: T): { [K in keyof T]: Ref<T[K]> };
  export function inject<T>(key: any, fallback?: T): T;
  export function provide(key: any, value: any): void;
  export function watch(...args: any[]): any;
  export function watchEffect(run: () => void): any;
  export function onMounted(run: () => void): void;
  export function onUnmounted(run: () => void): void;
  export function nextTick(run?: () => void): Promise<void>;
  export function useSlots(): any;
  export function useAttrs(): any;
  export function useTemplateRef<T = any>(name: string): Ref<T | null>;
  export function defineComponent(options: any): new () => any;
  export type PropType<T> = { new (...args: any[]): T } | { (): T };
  export type HTMLAttributes = { class?: any; [name: string]: any };
}
declare function defineProps<T>(): Readonly<T>;
declare function defineProps(options: any): any;
declare function withDefaults<T, D>(props: T, defaults: D): { [K in keyof T]-?: K extends keyof D ? NonNullable<T[K]> : T[K] };
declare function defineEmits<T = any>(events?: any): (event: string, ...args: any[]) => void;
declare function defineModel<T = any>(name?: any, options?: any): import('vue').Ref<T>;
declare function defineExpose(exposed?: any): void;
declare function defineOptions(options: any): void;
declare function defineSlots<T>(): T;
`;
