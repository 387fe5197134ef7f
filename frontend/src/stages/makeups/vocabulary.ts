// What a formula of a make-up may use: names with what they are, and functions.
import type { Completion } from '@codemirror/autocomplete'
import type { InjectionKey, Ref } from 'vue'

export const VOCABULARY: InjectionKey<Ref<Completion[]>> = Symbol('vocabulary')
