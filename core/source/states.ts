import type { StateTable } from '#core/states.ts'

export const SUPPLIER_STATE_CODES = ['proposed', 'onboarding', 'active', 'paused', 'barred', 'closed'] as const
export type SupplierState = (typeof SUPPLIER_STATE_CODES)[number]
/** `propose`, `onboard`, `activate` and `refuse` come from an onboarding; `merge` and `unmerge` from merging; people do the rest. */
export type SupplierAction =
  'propose' | 'onboard' | 'activate' | 'refuse' | 'pause' | 'resume' | 'bar' | 'close' | 'reopen' | 'merge'

/** Domain page, section 3: proposed → being onboarded → active ↔ paused → barred | closed. */
export const SUPPLIER_STATES: StateTable<SupplierState, SupplierAction> = {
  proposed: { onboard: 'onboarding', activate: 'active', refuse: 'closed', close: 'closed', merge: 'closed' },
  onboarding: { activate: 'active', refuse: 'closed', close: 'closed', bar: 'barred', merge: 'closed' },
  active: { pause: 'paused', bar: 'barred', close: 'closed', merge: 'closed' },
  paused: { resume: 'active', bar: 'barred', close: 'closed', merge: 'closed' },
  barred: { reopen: 'paused', merge: 'closed' },
  closed: { reopen: 'paused', propose: 'proposed' },
}

/** Groups of states by what they mean for the work. */
export const SUPPLIER_GROUPS = {
  /** Not a supplier yet. */
  coming: ['proposed', 'onboarding'],
  /** We order from it, or shall again. */
  trading: ['active', 'paused'],
  /** We may order from it now. */
  orderable: ['active'],
  /** Its people may have an account on its pages. */
  withPeople: ['onboarding', 'active', 'paused'],
} as const satisfies Readonly<Record<string, readonly SupplierState[]>>

/** What people do with a supplier's state by hand. */
export const BY_HAND: readonly SupplierAction[] = ['pause', 'resume', 'bar', 'close', 'reopen']

export const ONBOARDING_STATE_CODES = [
  'proposed',
  'invited',
  'answering',
  'submitted',
  'askedBack',
  'deciding',
  'accepted',
  'refused',
  'withdrawn',
] as const
export type OnboardingState = (typeof ONBOARDING_STATE_CODES)[number]
export type OnboardingAction =
  'invite' | 'register' | 'submit' | 'askBack' | 'accept' | 'approve' | 'refuse' | 'withdraw' | 'takeUp'

/**
 * proposed → invited → answering → submitted ⇄ asked back → deciding → accepted. Each open state can be withdrawn by the buyer; a refused
 * or withdrawn one can be taken up again.
 */
export const ONBOARDING_STATES: StateTable<OnboardingState, OnboardingAction> = {
  proposed: { invite: 'invited', refuse: 'refused', withdraw: 'withdrawn' },
  invited: { invite: 'invited', register: 'answering', withdraw: 'withdrawn' },
  answering: { submit: 'submitted', invite: 'answering', withdraw: 'withdrawn' },
  submitted: { askBack: 'askedBack', accept: 'deciding', refuse: 'refused', withdraw: 'withdrawn' },
  askedBack: { submit: 'submitted', askBack: 'askedBack', invite: 'askedBack', withdraw: 'withdrawn' },
  deciding: { approve: 'accepted', askBack: 'askedBack', refuse: 'refused', withdraw: 'withdrawn' },
  accepted: {},
  refused: { takeUp: 'proposed' },
  withdrawn: { takeUp: 'proposed' },
}

export const ONBOARDING_GROUPS = {
  /** Somebody still has to do something. */
  open: ['proposed', 'invited', 'answering', 'submitted', 'askedBack', 'deciding'],
  /** The buyer has it. */
  withBuyer: ['proposed', 'submitted'],
  /** The supplier has not begun to answer. */
  beforeAnswers: ['proposed', 'invited'],
  /** The supplier writes its answers. */
  answering: ['answering', 'askedBack'],
  /** It came to nothing. */
  ended: ['refused', 'withdrawn'],
} as const satisfies Readonly<Record<string, readonly OnboardingState[]>>
