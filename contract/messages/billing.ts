import { learn, type Messages } from '#contract/messages/say.ts'

/** English of invoices, credit notes and what holds them: pages of these load it; the server has all. */
export const billing: Messages = {
  'bill.credited': 'It is credited by {numbers}. Take those back first.',
  'bill.setOff': 'Credits were set off against it. Take those back first.',
  'credit.aboveBilled': 'Of line {line} only {left} are still billed: the rest is credited already.',
  'credit.aboveCharges': 'Only {left} of the charges can still be credited.',
  'credit.aboveInvoice': 'Only {left} of invoice {number} can still be credited, tax included.',
  'credit.aboveNet': 'Only {left} of line {line} can still be credited.',
  'credit.aboveQuantity': 'Only {left} of line {line} can still be credited.',
  'credit.beforeInvoice': 'A credit note cannot be older than its invoice of {issueDate}.',
  'credit.belowZero': 'Write amounts of zero or more: a credit note takes them away.',
  'credit.currency': 'It is in {currency}, its invoice in {wanted}.',
  'credit.duplicate': 'A credit note with the number {supplierNumber} is here already ({number}).',
  'credit.foreignLine': 'The invoice has no such line.',
  'credit.invoiceEnded': 'Invoice {number} was rejected or taken back: there is nothing to credit.',
  'credit.invoiceFirst': 'Its invoice {number} is not posted yet. It posts together with that.',
  'credit.lineNotFound': 'Line {line}, “{name}”, is no line of the invoice.',
  'credit.lineTwice': 'A line of the invoice is there twice. Write it once.',
  'credit.nothing': 'Say what is credited: a quantity, a price or the charges.',
  'credit.nothingBilled': 'Nothing was billed on line {line}.',
  'credit.number': 'Give your number of the credit note.',
  'credit.numberLong': 'A number has {most} letters at most.',
  'credit.priceOff': 'Write by how much the price falls, above zero.',
  'credit.setOff': '{amount} of it was set off in a payment. It cannot be voided any more.',
  'credit.theirs': 'Only the supplier takes back its own credit note. You can reject it.',
  'credit.totals': 'Its total is not its net and its tax.',
  'credit.whichInvoice': 'It cannot be told which invoice it credits ({number}). Ask for one that names it.',
  'creditNote.is.draft': 'Not handed in yet.',
  'creditNote.is.posted': 'Posted. {currency} {setOff} of it is set off, {currency} {open} is open.',
  'creditNote.is.rejected': 'Rejected.',
  'creditNote.is.voided': 'Voided: its entries are reversed.',
  'creditNote.is.waiting': 'It can be posted: {invoice} is in the books.',
  'creditNote.is.waitsForInvoice': 'It posts together with {invoice}, which is not posted yet.',
  'creditNote.is.withdrawn': 'Taken back.',
  'creditNote.short.draft': 'draft',
  'creditNote.short.open': 'of {invoice}, {open} open',
  'creditNote.short.posted': 'of {invoice}, set off',
  'creditNote.short.rejected': 'rejected',
  'creditNote.short.voided': 'voided',
  'creditNote.short.waiting': 'of {invoice}, to post',
  'creditNote.short.withdrawn': 'taken back',
  'invoice.is.setOff': 'Credits took all of it: nothing is left to pay.',
  'invoice.short.setOff': 'set off',
  'supplierInvoice.waits.account':
    'It asks to be paid to an account that we do not know as yours. Enter the account under Company, or send the invoice with the known one.',
  'supplierInvoice.waits.addressee': 'It is addressed to another company. Send it anew with our name and VAT number.',
  'supplierInvoice.waits.charges': 'Charges of {currency} {amount} were not agreed. We look at them.',
  'supplierInvoice.waits.currency':
    'Line {line} is billed in another currency than ordered. Send it anew in that of the order.',
  'supplierInvoice.waits.gross': 'Its totals do not add up by {currency} {amount}. Send it anew.',
  'supplierInvoice.waits.nearDuplicate':
    'Another invoice over the same amount is here. We look whether it is another one.',
  'supplierInvoice.waits.noOrderLine':
    '“{description}” belongs to no line of an order that we can tell. We look for it.',
  'supplierInvoice.waits.orderEnded': 'The order of line {line} takes no invoices any more. Ask the buyer.',
  'supplierInvoice.waits.prepaid': 'Its prepayment does not fit. We look at it.',
  'supplierInvoice.waits.price':
    'Line {line} is {currency} {amount} above the ordered price. We look at it; a credit note over it ends the wait.',
  'supplierInvoice.waits.proof': 'Waits for the receipt of line {ordered}, {description}[place|, at {place}].',
  'supplierInvoice.waits.quantity':
    'Line {line} bills {quantity} more than ordered. A credit note over them ends the wait.',
  'supplierInvoice.waits.rounding': 'It rounds by {currency} {amount}. We look at it.',
  'supplierInvoice.waits.tax': '{currency} {amount} of tax are in doubt: rate or category is not one that we know.',
  'supplierInvoice.waits.unit': 'Line {line} is billed in another unit than ordered. Send it anew in the ordered one.',
}

learn(billing)
