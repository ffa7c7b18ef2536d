// The thread that solves a whole model: it can be ended from outside at any time, as the solver itself cannot be interrupted.
import { parentPort, workerData } from 'node:worker_threads'

const { default: load } = await import('highs')
const solver = await load()
const { text, seconds, gap } = workerData
const { Status, ObjectiveValue, Columns } = solver.solve(text, {
  output_flag: false,
  time_limit: seconds,
  mip_rel_gap: gap,
})
const values = Object.fromEntries(Object.entries(Columns).map(([name, column]) => [name, column.Primal]))
parentPort.postMessage({ status: Status, objective: ObjectiveValue, values })
