/** What each act does with an order, as its dialog says it before it is done. */
export const WHAT: Readonly<Record<string, string>> = {
  issue: 'Something about the supplier should be looked at first. Your reason is kept with the order.',
  cancel: 'The supplier is told, the commitment is released. This cannot be taken back.',
  chase:
    'The supplier is mailed and asked for what is missing. The order then rests on its buyer’s Desk for three days. What you write here stands in the mail.',
  close: 'Nothing more is expected; what is left of the commitment is free again.',
  reopen: 'The order takes receipts and invoices again; what is not billed is committed again.',
  seal: 'The order is closed for good and can never be reopened.',
  askExcess:
    'Whoever holds what pays decides, or whom the rules name. Until then the order waits. Say why it costs that: they read it.',
  approveExcess: 'It may cost as much as was asked for, and no more.',
  refuseExcess: 'What was approved stands; whoever asked is told why.',
  withdrawExcess: 'Nobody decides about it any more; what was approved stands.',
  refuseAnswer: 'The order stands as it is; the supplier is told and answers again.',
  acceptAnswer:
    'Other prices and larger quantities make the next revision; later dates and smaller quantities are kept as promised. A line that is not chosen stays as it was ordered, and the supplier is asked about it again.',
}

/** What each act about a higher amount answers. */
export const EXCESS: Readonly<Record<string, 'approve' | 'reject' | 'withdraw'>> = {
  approveExcess: 'approve',
  refuseExcess: 'reject',
  withdrawExcess: 'withdraw',
}
