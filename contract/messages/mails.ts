import { type Details, fill } from '#contract/messages/fill.ts'

/** A mail's words. `{detail}` is filled in; `[detail|…]` stands only where the detail says something. */
export interface MailWords {
  readonly subject: string
  readonly text: string
}

/** What outsiders and the team are written, in English; another language is another table with the same templates. */
export const mailsEn = {
  'order.issued': {
    subject: 'Order {number}, revision {revision}: {title}',
    text: 'Dear [name|{name}],\n\nplease find order {number}: {currency} {total}.\n\nYou can confirm it, propose a change and make your invoice on your pages: {path}\n\n{by}\n{house}\n',
  },
  'order.revised': {
    subject: 'Order {number}, revision {revision}: {title}',
    text: 'Dear [name|{name}],\n\nplease find revision {revision} of order {number}, which replaces the earlier one: {currency} {total}.[reason|\nWhat changed: {reason}]\n\nYou can confirm it, propose a change and make your invoice on your pages: {path}\n\n{by}\n{house}\n',
  },
  'order.chased.answer': {
    subject: 'Order {number}: please answer it',
    text: 'Dear [name|{name}],\n\nwe have no answer yet to order {number}, {title}[needBy|, which we need by {needBy}].[note|\n\n{note}]\n\nPlease confirm it or tell us what you can do, on your pages: {path}\n\n{by}\n{house}\n',
  },
  'order.chased.delivery': {
    subject: 'Order {number} is late',
    text: 'Dear [name|{name}],\n\norder {number}, {title}, was needed by {needBy} and has not come in whole.[note|\n\n{note}]\n\n[link|Say the new day here, without signing in: {link}\n\n]Your pages: {path}\n\n{by}\n{house}\n',
  },
  'credit.rejected': {
    subject: 'Your credit note {number} was not taken',
    text: 'Dear [name|{name}],\n\nyour credit note {number} for invoice {invoice} was not taken: {reason}\n\nThe invoice on your pages: {path}\n\n{house}\n',
  },
  'invoice.disputed': {
    subject: 'Your invoice {number}: we have a question',
    text: 'Dear [name|{name}],\n\nyour invoice {number} waits, because we see something otherwise:\n\n{said}\n\nPlease answer on your pages: {path}\n\n{house}\n',
  },
  'invoice.disputeSaid': {
    subject: 'Your invoice {number}: an answer',
    text: 'Dear [name|{name}],\n\nabout your invoice {number} we write:\n\n{said}\n\nAll of it on your pages: {path}\n\n{house}\n',
  },
  'invoice.agreed.payAll': {
    subject: 'Your invoice {number}: agreed',
    text: 'Dear [name|{name}],\n\nit is agreed that your invoice {number} is paid as it is.\n\nOn your pages: {path}\n\n{house}\n',
  },
  'invoice.agreed.creditNote': {
    subject: 'Your invoice {number}: a credit note is agreed',
    text: 'Dear [name|{name}],\n\nit is agreed that you write a credit note for your invoice {number}.\n\nWrite it on your pages: {path}\n\n{house}\n',
  },
  'invoice.agreed.newInvoice': {
    subject: 'Your invoice {number}: another one is agreed',
    text: 'Dear [name|{name}],\n\nit is agreed that you send another invoice in place of {number}. Its number may stay the same.\n\nOn your pages: {path}\n\n{house}\n',
  },
  'invoice.selfBilled': {
    subject: 'We wrote your invoice {number} for order {order}',
    text: 'Dear [name|{name}],\n\nas agreed we wrote your invoice {number} for what came in of order {order}.\n\nLook at it and print it on your pages: {path}\nIf something is wrong, write us within a week.\n\n{house}\n',
  },
  'invoice.mailRead': {
    subject: 'Your invoices: {subject}',
    text: 'Dear [name|{name}],\n\n[what|we read what hung on your mail:\n\n{what}][nothing|we found no e-invoice on your mail. Send UBL, CII, a PDF with data in it, or a ZIP of those.]\n\nWhere each stands is on your pages: {path}\n\n{house}\n',
  },
  'invoice.waits.escalate': {
    subject: 'Invoice {number} of {supplier} waits too long',
    text: 'Dear [name|{name}],\n\n{currency} {amount} of invoice {number} of {supplier} are in question for {hours} working hours, and nobody cleared it. From now on you can, too.[due| It is due on {due}.]\n\n{path}\n\n{house}\n',
  },
  'invoice.waits.remind': {
    subject: 'Invoice {number} of {supplier} still waits for you',
    text: 'Dear [name|{name}],\n\n{currency} {amount} of invoice {number} of {supplier} are in question for {hours} working hours. Accept it, take it off, or send it back:[due| it is due on {due}.]\n\n{path}\n\n{house}\n',
  },
  'invoice.sentBack': {
    subject: 'Your invoice {number} comes back',
    text: 'Dear [name|{name}],\n\nwe cannot take your invoice {number}: {reason}\n\nPlease send a right one; its number may stay the same. On your pages: {path}\n\n{house}\n',
  },
  'invoice.debited': {
    subject: 'Debit note {number} for your invoice {invoice}',
    text: 'Dear [name|{name}],\n\nwe take {currency} {amount} off your invoice {invoice} by debit note {number}: {reason}\n\nInvoice and debit note on your pages: {path}\n\n{house}\n',
  },
  'goods.returned': {
    subject: 'Goods of order {order} go back: {number}',
    text: 'Dear [name|{name}],\n\ngoods of order {order}, {title}, go back to you under {number}: {reason}[supplierNumber|\nYour number: {supplierNumber}][pickUpOn|\nTo be picked up on {pickUpOn}.][debit|\n\nWe take it off your invoices: debit note {debit}.]\n\nThe order on your pages: {path}\n\n{house}\n',
  },
  'goods.inspected': {
    subject: 'Goods of order {order} were inspected: {number}',
    text: 'Dear [name|{name}],\n\ngoods of order {order}, {title}, did not pass our inspection {number} as they are.[rejected|\nNot taken: {rejected}.][deducted|\nTaken for {percent} % less: {deducted}.]\nWhy: {reason}[debit|\n\nWe take it off your invoices: debit note {debit}.]\n\nThe order on your pages: {path}\n\n{house}\n',
  },
  'goods.arrived': {
    subject: 'It is in: {title}',
    text: 'Dear {name},\n\nof order {number}, {title}, came in ({receipt}), at {place}:\n\n{what}\n\nSay whether you have it, without signing in: {link}\nThe delivery: {path}\n',
  },
  'goods.arrivedReminder': {
    subject: 'Do you have it? {title}',
    text: 'Dear {name},\n\nof order {number}, {title}, came in ({receipt}), at {place}, and you have not said whether you have it:\n\n{what}\n\nSay it here, without signing in: {link}\nThe delivery: {path}\n',
  },
  'goods.notAsShould': {
    subject: 'Order {number}: {who} does not have it as it should be',
    text: 'Dear {name},\n\n{who} says of what came in with {receipt} for {title}: "{note}"\n\n{what}\n\nThe delivery: {path}\n',
  },
  'goods.noWord': {
    subject: 'Order {number}: no word from {who}',
    text: 'Dear {name},\n\n{who} was asked whether what came in with {receipt} for {title} is there, at {place}, and has not said a word:\n\n{what}\n\nThe delivery: {path}\n',
  },
  'goods.setAside': {
    subject: 'Not ordered? {title}',
    text: 'Dear {name},\n\n{who} put aside {quantity} {unit} of {title} ({number}), at {place}: it is not known which order it belongs to.[marks|\nWhat stands on it: {marks}][note|\n\n"{note}"]\n\nSay what becomes of it: {path}\n',
  },
  'report.accepted': {
    subject: 'Work report {number} is accepted: {title}',
    text: 'Dear [name|{name}],\n\nof your report {number} on order {order}, {quantity} of {told} are accepted.[reason|\n\n{reason}]\n\n{path}\n\n{house}\n',
  },
  'report.refused': {
    subject: 'Work report {number} is not accepted: {title}',
    text: 'Dear [name|{name}],\n\nyour report {number} on order {order} is not accepted: {reason}\n\nYou can report it anew on your pages: {path}\n\n{house}\n',
  },
  'order.handOn': {
    subject: 'To hand on: order {number}, revision {revision}, for {supplier}',
    text: 'Dear {name},\n\nrevision {revision} of order {number}, {title}, is issued: {currency} {total}. {supplier} gets its orders through you: what belongs to it is attached.[reason|\nWhat changed: {reason}]\n\nWhen they have it, say so here: {path}\n',
  },
  'order.handOnCancelled': {
    subject: 'To hand on: order {number} is cancelled',
    text: 'Dear {name},\n\norder {number}, {title}, is cancelled: {reason}\n\nIts supplier gets its orders through you and has to be told. The cancellation is attached.\n\n{by}\n',
  },
  'order.cancelled': {
    subject: 'Order {number} is cancelled',
    text: 'Dear {name},\n\nwe cancel order {number}, {title}. {reason}\n\n{by}\n{house}\n',
  },
  'order.answer.accepted': {
    subject: 'Order {number}: your proposal was accepted',
    text: 'Dear {name},\n\nyour proposal for order {number} was accepted.[reason|\n\n"{reason}"]\n\n{path}\n',
  },
  'order.revisedTogether': {
    subject: '{count} orders have changed: {numbers}',
    text: 'Dear {name},\n\nthese orders have changed: {numbers}.[reason| {reason}]\n\nThe revisions are attached; only they count from now on. Please confirm them: {path}\n\n{by}\n{house}\n',
  },
  'order.daySaid': {
    subject: 'Order {number}: {who} says {days}',
    text: 'Dear {name},\n\n{who} says of order {number}, {title}: {days}.[note|\n\n"{note}"]\n\n{path}\n',
  },
  'order.answer.part': {
    subject: 'Order {number}: what you proposed is accepted in part',
    text: 'Dear {name},\n\npart of what you proposed for order {number}, {title}, is accepted. The rest stands as it was ordered:\n\n"{reason}"\n\nPlease answer again: {path}\n',
  },
  'order.answerRecorded': {
    subject: 'Order {number}: we wrote down your answer',
    text: 'Dear {name},\n\n{who} answered order {number}, {title}, on {on}, and we wrote it down in your name.[lines| It differs from the order on {lines} of its lines.]\n\nIf that is not what you said, please tell us: {path}\n\n{by}\n{house}\n',
  },
  'order.answer.refused': {
    subject: 'Order {number}: your proposal was refused',
    text: 'Dear {name},\n\nyour proposal for order {number} was refused. The order stands as it is; please answer it again.[reason|\n\n"{reason}"]\n\n{path}\n',
  },
  'order.excess.approved': {
    subject: 'Order {number} may cost more: {title}',
    text: 'Dear {name},\n\n{by} agreed that order {number}, {title}, costs {currency} {amount} more than was approved.[reason|\n\n"{reason}"]\n\nIt waits for you: {path}\n',
  },
  'order.excess.refused': {
    subject: 'Order {number} may not cost more: {title}',
    text: 'Dear {name},\n\n{by} did not agree that order {number}, {title}, costs {currency} {amount} more than was approved.[reason|\n\n"{reason}"]\n\n{path}\n',
  },
  'invoice.difference.approved': {
    subject: 'The difference in {number} is accepted: {title}',
    text: 'Dear {name},\n\n{by} accepted the difference of {currency} {amount} in {number}, {title}.[reason|\n\n"{reason}"]\n\n{path}\n',
  },
  'invoice.difference.refused': {
    subject: 'The difference in {number} is not accepted: {title}',
    text: 'Dear {name},\n\n{by} did not accept the difference of {currency} {amount} in {number}, {title}.[reason|\n\n"{reason}"]\n\nIt still stops the invoice: {path}\n',
  },
  'event.quotes': {
    subject: 'Quote request {number}: {title}',
    text: 'Dear [name|{name}],\n\nplease quote for {title}.[message|\n\n{message}]\n\nWhat is asked, and your answer: {path}\nIt counts until {ends}.\n\n{by}\n{house}\n',
  },
  'event.auction': {
    subject: 'Reverse auction {number}: {title}',
    text: 'Dear [name|{name}],\n\nwe invite you to a reverse auction for {title}. It opens {opens}.[message|\n\n{message}]\n\nTerms, lots and your bids: {path}\n\n{by}\n{house}\n',
  },
  'event.reminder': {
    subject: '{number} ends {ends}: {title}',
    text: 'Dear [name|{name}],\n\nwe have no answer from you yet to {number}, {title}. It counts until {ends}.[note|\n\n{note}]\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.beforeOpening': {
    subject: '{number} opens {opens}: {title}',
    text: 'Dear [name|{name}],\n\n{number}, {title}, opens {opens}.\n\n{note}\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.beforeEnd': {
    subject: '{number} ends {ends}: {title}',
    text: 'Dear [name|{name}],\n\n{number}, {title}, ends {ends}.\n\n{note}\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.atEnd': {
    subject: '{number} has ended: {title}',
    text: 'Dear [name|{name}],\n\n{number}, {title}, has ended.\n\n{note}\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.extend': {
    subject: '{number}: more time, until {ends}',
    text: 'Dear [name|{name}],\n\n{number}, {title}, now ends {ends}; all who are asked are told the same.[reason|\n\n"{reason}"]\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.beginAgain': {
    subject: '{number} goes on, until {ends}',
    text: 'Dear [name|{name}],\n\n{number}, {title}, goes on until {ends}. What you handed in is still in and can be changed.[reason|\n\n"{reason}"]\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.cancelled': {
    subject: '{number} is cancelled: {title}',
    text: 'Dear [name|{name}],\n\n{number}, {title}, is cancelled. Thank you for your work on it.[reason|\n\n"{reason}"]\n\n{by}\n{house}\n',
  },
  'event.lineDropped': {
    subject: '{number}: a line is taken out',
    text: 'Dear [name|{name}],\n\nin {number}, {title}, this is not asked any more: {line}.[reason|\n\n"{reason}"]\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.answered': {
    subject: '{number}: your answer is in',
    text: 'Dear [name|{name}],\n\nyour answer to {number}, {title}, is in[behalf|, typed in for you by {behalf}].[ends| You can change it until {ends}.]\n\n{path}\n\n{house}\n',
  },
  'event.message': {
    subject: '{number}: a message',
    text: 'Dear [name|{name}],\n\n{by} writes about {number}, {title}:\n\n"{text}"\n\nPlease answer on your pages: {path}\n\n{house}\n',
  },
  'event.suspended': {
    subject: '{number}: you cannot bid for now',
    text: 'Dear [name|{name}],\n\nfor now you cannot answer or bid in {number}, {title}. You can read and write messages.[reason|\n\n"{reason}"]\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.lifted': {
    subject: '{number}: you can bid again',
    text: 'Dear [name|{name}],\n\nin {number}, {title}, you can answer and bid again.[reason|\n\n"{reason}"]\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.consent': {
    subject: '{number}: we type in for you',
    text: 'Dear [name|{name}],\n\nwe have recorded that {who} asked us on {day} to type your answer to {number}, {title}, in for you. If that is not so, please write to us at once.\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.bidRemoved': {
    subject: '{number}: a bid of yours is taken out',
    text: 'Dear [name|{name}],\n\nyour bid of {currency} {total} in {number}, {title}, is taken out; the one before it stands again.[reason|\n\n"{reason}"]\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.day.pause': {
    subject: '{number} is paused',
    text: 'Dear [name|{name}],\n\nin {number}, {title}, this is paused for everybody: {lots}.[reason|\n\n"{reason}"]\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.day.resume': {
    subject: '{number} goes on',
    text: 'Dear [name|{name}],\n\nin {number}, {title}, this goes on: {lots}.[reason|\n\n"{reason}"]\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.day.extend': {
    subject: '{number}: {minutes} minutes more',
    text: 'Dear [name|{name}],\n\nin {number}, {title}, the end of this moves by {minutes} minutes for everybody: {lots}.[reason|\n\n"{reason}"]\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.day.end': {
    subject: '{number} ends early',
    text: 'Dear [name|{name}],\n\nin {number}, {title}, this is over for everybody: {lots}.[reason|\n\n"{reason}"]\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.won': {
    subject: '{number}: we would like to buy from you',
    text: 'Dear [name|{name}],\n\nthank you for your answer to {number}, {title}. We would like to buy from you: {what}. The order follows.[place|\n\nBy cost you are number {place}.]\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.lost': {
    subject: '{number}: thank you for your answer',
    text: 'Dear [name|{name}],\n\nthank you for your answer to {number}, {title}. This time we buy elsewhere.[place|\n\nBy cost you were number {place}.][price| It goes for {price} in all.]\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.award.approved': {
    subject: '{number}: the award is approved',
    text: 'Dear {name},\n\n{by} approved the award of {number}, {title}.[reason|\n\n"{reason}"]\n\nOrders can follow: {path}\n',
  },
  'event.award.refused': {
    subject: '{number}: the award is refused',
    text: 'Dear {name},\n\n{by} did not approve the award of {number}, {title}.[reason|\n\n"{reason}"]\n\nIt waits for you: {path}\n',
  },
  'agreement.approved': {
    subject: 'Agreement {number} is approved: {title}',
    text: 'Dear {name},\n\n{by} approved agreement {number}, {title}. It is in force.[reason|\n\n"{reason}"]\n\n{path}\n',
  },
  'agreement.refused': {
    subject: 'Agreement {number} is refused: {title}',
    text: 'Dear {name},\n\n{by} did not approve agreement {number}, {title}.[reason|\n\n"{reason}"]\n\nIt waits for you: {path}\n',
  },
  'agreement.spent': {
    subject: 'Agreement {number} is spent: {request}, {title}',
    text: 'Dear {name},\n\nagreement {number} with {who} offers nothing any more. Your draft {request}, {title}, still names it:\n\n{lines}\n\nChange it here: {path}\n',
  },
  'agreement.ends': {
    subject: 'Agreement {number} ends in {figure} days',
    text: 'Dear {name},\n\nagreement {number}, {title}, with {supplier} ends on {validTo}. Amend it, or see to what follows it.\n\n{path}\n',
  },
  'agreement.nearlyUsed': {
    subject: 'Agreement {number} is used to {figure} %',
    text: 'Dear {name},\n\nof agreement {number}, {title}, with {supplier} {figure} % is used. It ends on {validTo}.\n\n{path}\n',
  },
  'note.mentioned': {
    subject: '{by} names you beside {number}: {title}',
    text: 'Dear {name},\n\n{by} wrote beside {number}, {title}:\n\n"{text}"\n\n{path}\n',
  },
  'requisition.waits': {
    subject: '{number} waits for you: {title}',
    text: 'Dear {name},\n\n{requester} asks for {title}: {currency} {total}[needBy|, needed by {needBy}].[inPlace|\nYou decide it in place of {inPlace}.][why|\nIt comes to you by the rule {why}.][lines|\n\n{lines}][changes|\n\nChanged since it was asked about:\n{changes}][budget|\n\nLeft once this is bought:\n{budget}][past|\n\nAgainst last time:\n{past}][yes|\n\nApprove: {yes}\nReject: {no}][answer|\n\nOr answer this mail. Begin with yes, with no and why, or with question and what you want to know.][yes|\n\nThis mail decides once, until {until}.]\n\nOn your Desk: {path}\n',
  },
  'requisition.approved': {
    subject: '{number} was approved: {title}',
    text: 'Dear {name},\n\n{number}, {title}, was approved by {by}.[reason|\n\n"{reason}"]\n\n{path}\n',
  },
  'requisition.rejected': {
    subject: '{number} was rejected: {title}',
    text: 'Dear {name},\n\n{number}, {title}, was rejected by {by}.[reason|\n\n"{reason}"]\n\n{path}\n',
  },
  'requisition.returned': {
    subject: '{number} was returned: {title}',
    text: 'Dear {name},\n\n{number}, {title}, was returned by {by}.[reason|\n\n"{reason}"]\n\n{path}\n',
  },
  'requisition.reminder': {
    subject: 'Still waiting: {number}, {title}',
    text: 'Dear {name},\n\n{by} asks you to decide {number}, {title}[needBy|, needed by {needBy}].[inPlace|\nYou decide it in place of {inPlace}.][lines|\n\n{lines}][changes|\n\nChanged since it was asked about:\n{changes}][budget|\n\nLeft once this is bought:\n{budget}][yes|\n\nApprove: {yes}\nReject: {no}][answer|\n\nOr answer this mail. Begin with yes, with no and why, or with question and what you want to know.][yes|\n\nThis mail decides once, until {until}.]\n\n{path}\n',
  },
  'requisition.question': {
    subject: 'A question about {number}: {title}',
    text: 'Dear {name},\n\n{by} asks before buying for {number}:\n\n"{question}"\n\nPurchasing waits for your answer: {path}\n',
  },
  'requisition.askedFirst': {
    subject: 'A question about {number}: {title}',
    text: 'Dear {name},\n\nbefore deciding {number}, {by} asks:\n\n"{question}"\n\nThe decision waits for your answer: {path}\n',
  },
  'requisition.edited': {
    subject: 'Changed: {number}, {title}',
    text: 'Dear {name},\n\n{by} changed {number}, {title}, after it was asked about.[reason|\n\n"{reason}"][changes|\n\n{changes}]\n\n{path}\n',
  },
  'requisition.answer': {
    subject: 'Answer for {number}: {title}',
    text: 'Dear {name},\n\nyou asked: "{question}"\n{by} answers: "{answer}"\n\n{path}\n',
  },
  'requisition.late': {
    subject: 'Past its time: {number}, {title}',
    text: 'Dear {name},\n\n{number}, {title}, of {requester} waits for {who}, whose time to decide it is over.\n\n{path}\n',
  },
  'decision.taken': {
    subject: 'Done: {number}, {title}',
    text: 'Dear {name},\n\n[approve|{number}, {title}, is approved by you.][reject|{number}, {title}, is rejected by you.][ask|Your question about {number}, {title}, is on its way. The decision waits for the answer.][inPlace|\nYou decided in place of {inPlace}.]\n\n{path}\n',
  },
  'decision.notTaken': {
    subject: 'Not done: {number}, {title}',
    text: 'Dear {name},\n\nyour answer about {number}, {title}, was not taken. {why}\n\nOn your Desk: {path}\n',
  },
  'payment.remittance': {
    subject: 'Remittance advice: {currency} {amount} for invoice {invoice}',
    text: 'Dear {name},\n\non {day} we paid {currency} {amount} for your invoice {invoice} of {issueDate} to the account ending in {ending}. Reference: {reference}.\n\n{house}\n',
  },
  'supplier.accountChanged': {
    subject: 'Your bank account at {house} was changed',
    text: 'Dear {name},\n\nthe account that we pay {supplier} to was changed to one ending in {ending}. We shall pay to it only after a second person has checked it with you.\n\nIf you did not ask for this, please call us on the number that you know.\n',
  },
  'supplier.merged': {
    subject: 'Your record at {house} was brought together with another',
    text: 'Dear {name},\n\n{merged} and {kept} are one supplier for us from now on. What is open on {merged}, unpaid invoices too, goes on under {kept} and is paid to the account ending in {ending}.\n\nIf this is wrong, please call us on the number that you know.\n',
  },
  'supplier.certificate': {
    subject: '{kind} [lapsed|has lapsed on {lapsed}][days|ends in {days} days]',
    text: 'Dear [name|{name}],\n\nyour {kind}, number {number}, [lapsed|has lapsed on {lapsed}][days|ends in {days} days].\nPlease put the new one on your pages: {path}\n\n{house}\n',
  },
  'supplier.certificateOwner': {
    subject: '{kind} [lapsed|has lapsed on {lapsed}][days|ends in {days} days]',
    text: '{kind}, number {number}, of {supplier} [lapsed|has lapsed on {lapsed}][days|ends in {days} days].\n\n{path}\n',
  },
  'onboarding.invitation': {
    subject: '{by} of {house} asks {supplier} to introduce itself',
    text: 'Dear {name},\n\nwe should like to buy from {supplier}. Please tell us about the company on these pages; you can stop half-way and go on later:\n{path}\n\nThe link works once and until {until}.\n[message|\n{message}\n]\n{by}\n{house}\n',
  },
  'onboarding.askedBack': {
    subject: '[one|A question about your answers][many|{many} questions about your answers]',
    text: 'Dear {name},\n\nplease look at your answers once more:\n{questions}\n\nYour pages: {path}\n\n{by}\n{house}\n',
  },
  'onboarding.approved': {
    subject: '{supplier} is now a supplier of {house}',
    text: 'Dear {name},\n\nthank you. From now on you can get orders from us; you see them on your pages: {path}\n\n{house}\n',
  },
  'onboarding.orderable': {
    subject: '{supplier} can be ordered from',
    text: 'Dear {name},\n\n{supplier}, which you proposed, has been approved. You can ask for things from it now.\n\n{path}\n',
  },
  'onboarding.answersIn': {
    subject: '{by} has handed in the answers',
    text: 'Dear {name},\n\nthe answers are here: {path}\n',
  },
  'onboarding.answeredAgain': {
    subject: '{by} has answered your questions',
    text: 'Dear {name},\n\nthe answers are here: {path}\n',
  },
  'company.invitation': {
    subject: '{by} has opened an account for you',
    text: 'Dear {name},\n\nyou can see what {house} orders from {supplier} on these pages. Choose a password here; the link works once and for {days} days:\n{path}\n',
  },
  'account.digest': {
    subject: '[one|One thing since yesterday][many|{many} things since yesterday]',
    text: 'Dear {name},\n\n{list}\n\n{house}\n',
  },
  'account.digestDecision': {
    subject: '{number}: {title}',
    text: '[inPlace|You decide it in place of {inPlace}.\n][why|It comes to you by the rule {why}.\n][lines|{lines}\n][changes|Changed since it was asked about:\n{changes}\n][budget|Left once this is bought:\n{budget}\n][past|Against last time:\n{past}\n]Approve: {yes}\nReject: {no}\nThis decides once, until {until}.\n',
  },
  'account.invitation': {
    subject: '{by} has opened an account for you',
    text: 'Dear {name},\n\n{by} has opened an account for you at {house}. Choose a password here; the link works once and for fourteen days:\n{path}\n',
  },
  'account.reset': {
    subject: 'A new password for your account',
    text: 'Dear {name},\n\nsomebody, probably you, asked to choose a new password for your account at {house}. Choose it here; the link works once and for an hour:\n{path}\n\nIf it was not you, do nothing: the present one stays.\n',
  },
  'account.addressChanged': {
    subject: 'The address of your account was changed',
    text: 'Dear {name},\n\n{by} changed the address of your account at {house} to {email}. From now on mail goes there.\n\nIf this is wrong, please call us on the number that you know.\n',
  },
  'company.administrator': {
    subject: '{person} now looks after the accounts of {supplier}',
    text: 'Dear {name},\n\n{person} now administers the accounts of {supplier} on our pages.\nReason: {reason}\n\nIf this is wrong, please call us on the number that you know.\n',
  },
} as const satisfies Readonly<Record<string, MailWords>>

export type MailTemplate = keyof typeof mailsEn

/**
 * A mail from its template, with its details put in.
 *
 * fillMail(mailsEn['order.cancelled'], { number: 'O-1', … }).subject //=> 'Order O-1 is cancelled'
 */
export const fillMail = (words: MailWords, details: Details): MailWords => ({
  subject: fill(words.subject, details).replace(/\s+/g, ' ').trim(),
  text: fill(words.text, details),
})
