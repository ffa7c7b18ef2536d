import { type Reason, stop } from '#core/reasons.ts'

/** For each state the actions that lead out of it, and where to. A state without actions is final. */
export type StateTable<State extends string, Action extends string> = Readonly<
  Record<State, Readonly<Partial<Record<Action, State>>>>
>

export type Transition<State extends string> = { ok: true; state: State } | { ok: false; reasons: Reason[] }

/**
 * Looks up where `action` leads. A refusal names the state it was tried in and what can be done there instead.
 *
 * transition(ORDER_STATES, 'order', 'draft', 'issue') //=> { ok: true, state: 'issued' }
 */
export function transition<S extends string, A extends string>(
  table: StateTable<S, A>,
  kind: string,
  state: S,
  action: A,
): Transition<S> {
  const next = table[state][action]
  if (next) return { ok: true, state: next as S }
  const possible = Object.keys(table[state]).join(', ')
  return { ok: false, reasons: [stop('state.notNow', { kind, state, action, possible })] }
}

/** Nothing where an action leads on from a state, else the reason. */
export function notNow<S extends string, A extends string>(
  table: StateTable<S, A>,
  kind: string,
  state: S,
  action: A,
): Reason[] {
  const next = transition(table, kind, state, action)
  return next.ok ? [] : next.reasons
}

export const actionsFrom = <S extends string, A extends string>(table: StateTable<S, A>, state: S): A[] =>
  Object.keys(table[state]) as A[]

/** Whether a state is one of a group. isIn(ORDER_GROUPS.live, 'issued') //=> true */
export const isIn = <S extends string>(group: readonly S[], state: string): state is S =>
  (group as readonly string[]).includes(state)
