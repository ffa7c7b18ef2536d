/** Words for codes that are shown as labels: states, actions, roles, columns and the like. */
export const LABELS: Readonly<Record<'state' | 'action' | 'history' | 'role' | 'view' | 'sort' | 'column' | 'step' | 'hold' | 'field' | 'kind' | 'stage' | 'entry' | 'level' | 'payment', Readonly<Record<string, string>>>> = {
  state: {
    draft: 'draft', waiting: 'waiting', returned: 'sent back', approved: 'approved', inPurchasing: 'in purchasing', ordered: 'ordered', finished: 'finished', rejected: 'rejected', withdrawn: 'withdrawn', cancelled: 'cancelled', open: 'open', toBuy: 'to be bought', onDraftOrder: 'on a draft order', bought: 'bought', done: 'done',
    issued: 'issued', acknowledged: 'confirmed', closed: 'closed', sealed: 'sealed', read: 'read', onHold: 'held', matched: 'agrees', cleared: 'posted', scheduled: 'in a run', paid: 'paid', voided: 'voided', proposed: 'proposed', sent: 'at the bank', answered: 'answered', active: 'active', paused: 'paused', barred: 'barred',
    none: 'nothing', part: 'a part', full: 'in full', over: 'more than ordered', posted: 'posted', reversed: 'reversed', confirmed: 'confirmed', accepted: 'accepted', refused: 'refused', superseded: 'replaced', unproven: 'to be checked', proven: 'checked', later: 'later', dropped: 'dropped', failed: 'not sent',
  },
  action: {
    submit: 'Submit', cancel: 'Cancel', approve: 'Approve', return: 'Send back', reject: 'Reject', withdraw: 'Withdraw', reopen: 'Reopen', copy: 'Copy', passOn: 'Pass on', edit: 'Edit', prove: 'Record the check', bankAccount: 'Change account', pause: 'Pause orders', resume: 'Resume orders', bar: 'Bar', close: 'Close',
    issue: 'Issue', revise: 'Change', receive: 'Receive', acceptAnswer: 'Accept the answer', refuseAnswer: 'Refuse the answer', seal: 'Seal', receiveAll: 'Receive all', post: 'Post', void: 'Void',
  },
  history: {
    created: 'Created', submitted: 'Submitted', approve: 'Approved', reject: 'Rejected', return: 'Sent back', withdraw: 'Withdrawn', reopen: 'Reopened', cancel: 'Cancelled', passedOn: 'Passed on', fileAttached: 'File attached', noteWritten: 'Note written', changed: 'Changed', imported: 'Imported', bankAccountChanged: 'Account changed', bankAccountProven: 'Account checked',
    pause: 'Orders paused', resume: 'Orders resumed', bar: 'Barred', close: 'Closed', drafted: 'Drafted', edited: 'Draft edited', issued: 'Issued', revised: 'Revised', confirmed: 'Confirmed in full', answeredDifferently: 'Answered differently', answerAccepted: 'Answer accepted', answerRefused: 'Answer refused', received: 'Received', receiptReversed: 'Receipt reversed', seal: 'Sealed',
    read: 'Read', matched: 'Agrees', heldUp: 'Held', linked: 'Line linked', holdCleared: 'Hold cleared', posted: 'Posted', void: 'Voided', schedule: 'Put into a run', unschedule: 'Taken out of the run', pay: 'Paid', proposed: 'Proposed', approved: 'Approved', withdrawn: 'Withdrawn', sent: 'Taken by the bank', answered: 'All answered', amountDiffers: 'The bank names another amount',
  },
  role: { requester: 'requester', budgetHolder: 'budget holder', buyer: 'buyer', sourcingLead: 'sourcing lead', receiver: 'receiver', invoiceClerk: 'invoice clerk', treasurer: 'treasurer', financeController: 'finance controller', director: 'director', steward: 'steward', supplierSales: 'supplier’s sales office', holder: 'holder of the cost centre' },
  view: {
    'runs.all': 'Payment runs', 'runs.open': 'Runs under way', 'payables.all': 'Invoices to pay', 'suppliers.all': 'All suppliers', 'invoices.all': 'All invoices', 'orders.all': 'All orders', 'orders.open': 'Open orders', 'deliveries.all': 'All deliveries', 'deliveries.forMe': 'For my requests', 'requests.all': 'All requests', 'requests.open': 'Open requests', 'to-buy.all': 'Approved, to be bought', 'budgets.thisYear': 'Budgets of this year', 'budgets.mine': 'My budgets', 'budgets.all': 'All budgets', 'decisions.forMe': 'Waiting for me', 'decisions.waiting': 'All that wait',
    mine: 'My requests', open: 'Still open', all: 'All', forMe: 'Waiting for me', coming: 'Coming to me', decided: 'Decided by me', stalled: 'Stalled', waiting: 'All that wait', wantsAWord: 'Orders that want a word', wantsAttention: 'Suppliers that want attention', dueSoon: 'Needed within a week', expected: 'Expected', received: 'All in', toSettle: 'To settle', posted: 'Posted', due: 'Due today or before', thisYear: 'This year', withoutOffer: 'Without an offer',
  },
  sort: { newest: 'newest first', needBy: 'soonest needed', amount: 'largest first', name: 'by name', supplier: 'by supplier', dueOn: 'soonest due', account: 'by account' },
  column: {
    requester: 'Requester', needBy: 'Needed by', lines: 'Lines', waitsFor: 'Waits for', createdAt: 'Created', supplier: 'Supplier', revision: 'Revision', received: 'Received', billed: 'Billed', buyer: 'Buyer', issuedAt: 'Issued', city: 'Place', country: 'Country', categories: 'Sells', currency: 'Currency', days: 'Terms, days', promised: 'Promised', place: 'Goes to', quantity: 'Quantity', requisition: 'Request',
    supplierNumber: 'Their number', issueDate: 'Dated', dueOn: 'Due', holds: 'Held by', executeOn: 'To be paid on', payments: 'Payments', proposer: 'Proposed by', refused: 'Refused', account: 'Account', allotted: 'Allotted', reserved: 'Reserved', committed: 'Committed', spent: 'Spent', accrued: 'Accrued', category: 'Category', unit: 'Unit', offers: 'Offers',
  },
  step: { requested: 'Requested', decided: 'Decided', ordered: 'Ordered', confirmed: 'Confirmed', received: 'Received', billed: 'Billed', paid: 'Paid' },
  hold: { price: 'price', quantity: 'quantity', proof: 'not in yet', charges: 'charges', noOrderLine: 'no order line', unit: 'unit', currency: 'currency', nearDuplicate: 'perhaps twice' },
  field: { description: 'description', quantity: 'quantity', price: 'price', needBy: 'needed by' },
  kind: { goods: 'Goods by count', fixedPriceWork: 'Fixed-price work', supplier: 'Supplier', requisition: 'Request', order: 'Order', receipt: 'Delivery', invoice: 'Invoice', paymentRun: 'Payment run', item: 'Item', mail: 'Mail', bankFile: 'Bank file', action: 'Do' },
  stage: { desk: 'Desk', source: 'Source', request: 'Request', decide: 'Decide', order: 'Order', receive: 'Receive', bill: 'Bill', pay: 'Pay', insight: 'Insight', setup: 'Setup' },
  entry: { requested: 'requested', ordered: 'ordered', confirmed: 'confirmed', despatched: 'despatched', received: 'received', accepted: 'accepted', rejected: 'rejected', returned: 'returned', billed: 'billed', credited: 'credited', paid: 'paid', allotted: 'allotted', transferred: 'transferred', reserved: 'reserved', committed: 'committed', spent: 'spent', accrued: 'accrued' },
  level: { off: 'not checked', note: 'note only', check: 'reason wanted', stop: 'stops' },
  payment: { proposed: 'proposed', sent: 'at the bank', accepted: 'accepted by the bank', paid: 'paid', refused: 'refused', withdrawn: 'withdrawn' },
}
