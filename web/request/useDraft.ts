import { onBeforeUnmount, reactive, ref, shallowRef, watch } from 'vue'
import type { ResponseOf } from '#contract/endpoint.ts'
import type { ReasonJson } from '#contract/fields.ts'
import { CheckRequisition, ReadRequisition, SaveRequisition } from '#contract/request/endpoints.ts'
import type { FullLine, LineBody } from '#contract/request/lines.ts'
import { mergeDrafts, type MergeNews } from '#core/request/mergeDrafts.ts'
import { REQUISITION_GROUPS } from '#core/request/states.ts'
import { isIn } from '#core/states.ts'
import { api, Offline, Refused } from '#web/api.ts'

export type EditedLine = FullLine & { id: string; refresh?: boolean }
/** Milliseconds after which a draft that could not be kept for want of a connection is tried again. */
const AGAIN = 3000
type Sheet = ResponseOf<typeof ReadRequisition>
export interface DraftForm {
  title: string
  reason: string
  lines: EditedLine[]
}

const FIELDS = ['id', 'kind', 'itemId', 'offerId', 'description', 'quantity', 'unit', 'price', 'priceBase', 'currency', 'supplierId', 'needBy', 'addressId', 'splits', 'category', 'splitBy', 'incoterm', 'incotermPlace', 'routes', 'routeReason', 'proof', 'freight', 'details', 'agreementLineId'] as const // prettier-ignore
const copy = <T>(value: T): T => JSON.parse(JSON.stringify(value)) as T
const pick = <T extends object, K extends keyof T & string>(from: T, keys: readonly K[]): Pick<T, K> =>
  Object.fromEntries(keys.map(key => [key, from[key]])) as Pick<T, K>
export const editedLine = (line: Sheet['lines'][number]): EditedLine => copy(pick(line, FIELDS))
const formOf = (sheet: Sheet): DraftForm => ({
  title: sheet.title,
  reason: sheet.reason,
  lines: sheet.lines.filter(line => line.state !== 'cancelled').map(editedLine),
})
const sent = (line: EditedLine): LineBody => ({ ...line, quantity: line.quantity || '0', price: line.price || '0' })

/**
 * Keeps a draft by itself a moment after each change, and what is known of it beside. A save that runs is waited for; when the draft was
 * changed in another window, both are brought together and what is typed here stays. Without a connection it tries again until it is kept.
 */
export function useDraft(sheet: () => Sheet, typing: (is: boolean) => void) {
  const form = reactive(formOf(sheet()))
  const version = ref(sheet().version)
  const kept = ref('')
  const waiting = ref(false)
  const news = shallowRef<readonly MergeNews[]>([])
  const reasons = shallowRef<readonly ReasonJson[]>([])
  const checked = shallowRef<ResponseOf<typeof CheckRequisition>>()
  let base = formOf(sheet())
  let timer: ReturnType<typeof setTimeout> | undefined
  let running: Promise<void> | undefined
  let dirty = false
  let asking = 0

  function touch(delay = 700): void {
    dirty = true
    typing(true)
    clearTimeout(timer)
    timer = setTimeout(() => void keep(), delay)
  }
  function change(line: EditedLine, part: Partial<EditedLine>): void {
    Object.assign(line, part)
    touch(part.refresh ? 0 : 700)
  }

  async function keep(): Promise<void> {
    clearTimeout(timer)
    while (running) await running
    if (!dirty) return
    running = save().finally(() => {
      running = undefined
      takeOver()
    })
    await running
  }

  async function save(): Promise<void> {
    dirty = false
    try {
      while (!(await send())) if (!(await bringTogether())) return
      waiting.value = false
      reasons.value = []
      kept.value = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' }).format(new Date())
      if (!dirty) typing(false)
      await check()
    } catch (error) {
      dirty = true
      if (error instanceof Refused) reasons.value = error.reasons
      else if (error instanceof Offline) {
        waiting.value = true
        timer = setTimeout(() => void keep(), AGAIN)
      } else throw error
    }
  }

  /** False when another edit was kept meanwhile, by somebody or by this person in another window. */
  async function send(): Promise<boolean> {
    const mine = copy({ title: form.title, reason: form.reason, lines: form.lines })
    try {
      const done = await api(SaveRequisition, {
        params: { id: sheet().id },
        body: { version: version.value, title: mine.title, reason: mine.reason, lines: mine.lines.map(sent) },
      })
      version.value = done.version
      base = { ...mine, lines: mine.lines.map(({ refresh: _refresh, ...line }) => line) }
      for (const line of form.lines) delete line.refresh
      return true
    } catch (error) {
      if (error instanceof Refused && error.reasons.some(reason => reason.code === 'document.changed')) return false
      throw error
    }
  }

  /** Brings the other edit and this one together; false when nobody can edit it any more. */
  async function bringTogether(): Promise<boolean> {
    const theirs = await api(ReadRequisition, { params: { id: sheet().id } })
    if (!isIn(REQUISITION_GROUPS.drafts, theirs.state)) {
      dirty = false
      typing(false)
      return false
    }
    const merged = mergeDrafts(
      copy(base),
      copy({ title: form.title, reason: form.reason, lines: form.lines }),
      formOf(theirs),
    )
    news.value = merged.news
    Object.assign(form, merged.draft)
    base = formOf(theirs)
    version.value = theirs.version
    return true
  }

  /** What is known of the draft as it was kept last: an older answer that comes late is not taken for it. */
  async function check(): Promise<void> {
    const asked = ++asking
    const answer = await api(CheckRequisition, { params: { id: sheet().id } }).catch(() => undefined)
    if (answer && asked === asking) checked.value = answer
  }
  /** After something else changed the draft on the server: take it over when nothing here waits to be kept, or is just being kept. */
  function takeOver(): void {
    if (dirty || running || sheet().version <= version.value) return
    version.value = sheet().version
    base = formOf(sheet())
    Object.assign(form, formOf(sheet()))
    void check()
  }
  watch(() => sheet().version, takeOver)
  watch(
    () => [form.title, form.reason],
    () => {
      if (form.title !== base.title || form.reason !== base.reason) touch()
    },
  )
  onBeforeUnmount(() => {
    if (dirty) void keep()
  })
  const drop = (): void => {
    dirty = false
    clearTimeout(timer)
    typing(false)
  }
  return { form, version, kept, waiting, news, reasons, checked, touch, change, keep, check, drop }
}
