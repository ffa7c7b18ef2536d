import { learn, type Messages } from '#contract/messages/say.ts'

/** English of receiving, at a desk and on a handheld: pages of these load it; the server has all. */
export const receiving: Messages = {
  'receive.closedPeriod': 'The books are closed before {from}: date it from then on, or have the period opened.',
  'receive.closedPlace': 'This place is no longer in use. Choose another one.',
  'receive.countAgain': 'Count it a second time: the figure is not the one that is expected.',
  'receive.countsDiffer': 'The second count is another one. Count once more.',
  'receive.foreignLine': 'One of the lines is not on this order. Load it again.',
  'receive.foreignPart': 'One of the counts is not on this receipt. Load it again.',
  'receive.future': 'Nothing can be received after today, {today}.',
  'receive.goneBack': 'Some of {line} went back to the supplier: {left} are left.',
  'receive.inspectedWhole': '{line} has been inspected: it can only be taken back as a whole.',
  'receive.lineTwice': 'A line stands here twice.',
  'receive.moreThanStands': 'Of {line} {left} still stand on this receipt.',
  'receive.needsBatch': 'Its batch has to be told.',
  'receive.needsBestBefore': 'Its best-before date has to be told.',
  'receive.needsSerials': 'Each piece has to be told by its serial number: {told} of {pieces} are.',
  'receive.notThere': 'Of {line} {there} are still where they were put: return the rest first.',
  'receive.nothingCounted': 'Count at least one line.',
  'receive.nothingTakenBack': 'Say which counts are taken back, each once.',
  'receive.over':
    '{received} of {ordered} would be in: {over} more than ordered, within the tolerance of {percent} per cent.',
  'receive.overAsked':
    '{received} of {ordered} would be in: {over} too many, the tolerance is {percent} per cent. It counts once a second person has said yes.',
  'receive.overDecided': 'This count is decided already.',
  'receive.overTolerance':
    '{received} of {ordered} would be in: {over} too many, the tolerance is {percent} per cent. The buyer can change the order.',
  'receive.ownCount': 'Whoever counted does not say yes to it.',
  'receive.quantity': 'The quantity must be above zero.',
  'receive.reversedAlready': 'This receipt is reversed already.',
  'receive.tooManySerials': '{told} serial numbers stand here for {pieces} pieces.',
  'receive.wantsReason': 'More came than was ordered. Say why it is kept.',
  'receive.whichPieces': 'Say which pieces of {line} are taken back.',
  'receive.whyReversed': 'Say why it is reversed: it stands in the history.',
  'receive.workBecomes': 'Work is accepted: it becomes nothing else.',
  'scan.checkDigit': '{code} ends on a wrong check digit: scan it again.',
  'scan.cutOff': '({code}) “{value}” is too short or too long: scan it again.',
  'scan.date': '{code} is no date.',
  'scan.unknown': 'The label says something under {code} that is not read here.',
  'serial.known': '{serial} is here already.',
  'serial.range': '“{range}” is no range of serial numbers: it ends before it begins, or its two ends begin otherwise.',
  'serial.tooLong': 'A serial number has 1 to 40 letters.',
  'serial.tooMany': 'At most {most} serial numbers can be told at once.',
  'serial.twice': '{serial} stands here twice, {count} of them in all.',
  'terms.characteristic': 'Each characteristic has a name of its own.',
  'terms.limit': 'A limit is a number with at most six digits after the point.',
  'terms.limits': 'The lower limit is above the upper one.',
}

learn(receiving)
