/**
 * As much of Vue's types as the types of values need, for the texts that are made from Vue files. Here a ref holds what it
 * was given, by the name that its author wrote; nothing is unwrapped further.
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
  export type MaybeRef<T = any> = T | Ref<T>;
  export type MaybeRefOrGetter<T = any> = T | Ref<T> | (() => T);
  export type UnwrapRef<T> = T extends Ref<infer V> ? V : T;
  export interface WritableComputedRef<T = any> extends Ref<T> {}
  export interface ShallowRef<T = any> extends Ref<T> {}
  export interface InjectionKey<T> { readonly key?: T }
  export type Component = any;
  export type VNode = any;
  export type App = any;
  export type Slots = any;
  export type ComponentPublicInstance = any;
  export type StyleValue = any;
  export type ButtonHTMLAttributes = HTMLAttributes;
  export type InputHTMLAttributes = HTMLAttributes;
  export type AnchorHTMLAttributes = HTMLAttributes;
  export function unref<T>(value: T | Ref<T>): T;
  export function toValue<T>(value: T | Ref<T> | (() => T)): T;
  export function isRef(value: any): value is Ref;
  export function toRaw<T>(value: T): T;
  export function markRaw<T>(value: T): T;
  export function customRef<T>(make: any): Ref<T>;
  export function triggerRef(value: Ref): void;
  export function watchPostEffect(run: () => void): any;
  export function watchSyncEffect(run: () => void): any;
  export function onBeforeMount(run: () => void): void;
  export function onBeforeUpdate(run: () => void): void;
  export function onUpdated(run: () => void): void;
  export function onBeforeUnmount(run: () => void): void;
  export function onActivated(run: () => void): void;
  export function onDeactivated(run: () => void): void;
  export function onErrorCaptured(run: (...args: any[]) => any): void;
  export function getCurrentInstance(): any;
  export function defineAsyncComponent(load: any): any;
  export function resolveComponent(name: string): any;
  export function useModel<T = any>(props: any, name: string): Ref<T>;
  export function useId(): string;
  export function h(...args: any[]): any;
  export function createApp(...args: any[]): any;
  export function effectScope(): any;
  export const Fragment: any, Teleport: any, Suspense: any, KeepAlive: any, Transition: any, TransitionGroup: any;
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
