import type { MailTemplate, MailWords } from '#contract/messages/mails.ts'

/** What is written to people, in German. */
export const mails: Readonly<Record<MailTemplate, MailWords>> = {
  'credit.rejected': {
    subject: 'Ihre Gutschrift {number} wurde nicht angenommen',
    text: 'Guten Tag[name| {name}],\n\nIhre Gutschrift {number} zur Rechnung {invoice} wurde nicht angenommen: {reason}\n\nDie Rechnung auf Ihren Seiten: {path}\n\n{house}\n',
  },
  'invoice.disputed': {
    subject: 'Ihre Rechnung {number}: wir haben eine Frage',
    text: 'Guten Tag[name| {name}],\n\nIhre Rechnung {number} wartet, weil wir etwas anders sehen:\n\n{said}\n\nBitte antworten Sie auf Ihren Seiten: {path}\n\n{house}\n',
  },
  'invoice.disputeSaid': {
    subject: 'Ihre Rechnung {number}: eine Antwort',
    text: 'Guten Tag[name| {name}],\n\nzu Ihrer Rechnung {number} schreiben wir:\n\n{said}\n\nAlles dazu auf Ihren Seiten: {path}\n\n{house}\n',
  },
  'invoice.agreed.payAll': {
    subject: 'Ihre Rechnung {number}: vereinbart',
    text: 'Guten Tag[name| {name}],\n\nes ist vereinbart, dass Ihre Rechnung {number} bezahlt wird, wie sie ist.\n\nAuf Ihren Seiten: {path}\n\n{house}\n',
  },
  'invoice.agreed.creditNote': {
    subject: 'Ihre Rechnung {number}: eine Gutschrift ist vereinbart',
    text: 'Guten Tag[name| {name}],\n\nes ist vereinbart, dass Sie zu Ihrer Rechnung {number} eine Gutschrift schreiben.\n\nSchreiben Sie sie auf Ihren Seiten: {path}\n\n{house}\n',
  },
  'invoice.agreed.newInvoice': {
    subject: 'Ihre Rechnung {number}: eine andere ist vereinbart',
    text: 'Guten Tag[name| {name}],\n\nes ist vereinbart, dass Sie statt {number} eine andere Rechnung senden. Ihre Nummer darf dieselbe bleiben.\n\nAuf Ihren Seiten: {path}\n\n{house}\n',
  },
  'invoice.selfBilled': {
    subject: 'Ihre Rechnung {number} zur Bestellung {order} haben wir geschrieben',
    text: 'Guten Tag[name| {name}],\n\nwie vereinbart haben wir Ihre Rechnung {number} über das geschrieben, was zur Bestellung {order} eingegangen ist.\n\nSehen und drucken Sie sie auf Ihren Seiten: {path}\nWenn etwas nicht stimmt, schreiben Sie uns innerhalb einer Woche.\n\n{house}\n',
  },
  'invoice.mailRead': {
    subject: 'Ihre Rechnungen: {subject}',
    text: 'Guten Tag[name| {name}],\n\n[what|wir haben gelesen, was an Ihrer Mail hing:\n\n{what}][nothing|wir haben an Ihrer Mail keine E-Rechnung gefunden. Senden Sie UBL, CII, ein PDF mit Daten darin oder ein ZIP davon.]\n\nWo jede steht, sehen Sie auf Ihren Seiten: {path}\n\n{house}\n',
  },
  'invoice.waits.escalate': {
    subject: 'Rechnung {number} von {supplier} wartet zu lange',
    text: 'Guten Tag [name|{name}],\n\nseit {hours} Arbeitsstunden sind {currency} {amount} der Rechnung {number} von {supplier} strittig, und niemand hat entschieden. Ab jetzt können Sie es auch.[due| Fällig ist sie am {due}.]\n\n{path}\n\n{house}\n',
  },
  'invoice.waits.remind': {
    subject: 'Rechnung {number} von {supplier} wartet noch auf Sie',
    text: 'Guten Tag [name|{name}],\n\nseit {hours} Arbeitsstunden sind {currency} {amount} der Rechnung {number} von {supplier} strittig. Nehmen Sie es hin, ziehen Sie es ab oder schicken Sie sie zurück:[due| fällig ist sie am {due}.]\n\n{path}\n\n{house}\n',
  },
  'invoice.sentBack': {
    subject: 'Ihre Rechnung {number} kommt zurück',
    text: 'Guten Tag[name| {name}],\n\nwir können Ihre Rechnung {number} nicht annehmen: {reason}\n\nBitte senden Sie eine richtige; die Nummer darf dieselbe bleiben. Auf Ihren Seiten: {path}\n\n{house}\n',
  },
  'invoice.debited': {
    subject: 'Belastungsanzeige {number} zu Ihrer Rechnung {invoice}',
    text: 'Guten Tag[name| {name}],\n\nwir ziehen von Ihrer Rechnung {invoice} {currency} {amount} mit der Belastungsanzeige {number} ab: {reason}\n\nRechnung und Belastungsanzeige auf Ihren Seiten: {path}\n\n{house}\n',
  },
  'goods.returned': {
    subject: 'Ware der Bestellung {order} geht zurück: {number}',
    text: 'Guten Tag [name|{name}],\n\nWare der Bestellung {order}, {title}, geht unter {number} an Sie zurück: {reason}[supplierNumber|\nIhre Nummer: {supplierNumber}][pickUpOn|\nAbzuholen am {pickUpOn}.][debit|\n\nWir ziehen es von Ihren Rechnungen ab: Belastungsanzeige {debit}.]\n\nDie Bestellung auf Ihren Seiten: {path}\n\n{house}\n',
  },
  'goods.inspected': {
    subject: 'Ware der Bestellung {order} wurde geprüft: {number}',
    text: 'Guten Tag [name|{name}],\n\nWare der Bestellung {order}, {title}, hat unsere Prüfung {number} nicht ohne Weiteres bestanden.[rejected|\nNicht angenommen: {rejected}.][deducted|\nMit {percent} % Abzug angenommen: {deducted}.]\nGrund: {reason}[debit|\n\nWir ziehen es von Ihren Rechnungen ab: Belastungsanzeige {debit}.]\n\nDie Bestellung auf Ihren Seiten: {path}\n\n{house}\n',
  },
  'goods.arrived': {
    subject: 'Ist da: {title}',
    text: 'Guten Tag {name},\n\nzur Bestellung {number}, {title}, ist eingetroffen ({receipt}), {place}:\n\n{what}\n\nSagen Sie hier ohne Anmeldung, ob Sie es haben: {link}\nDie Lieferung: {path}\n',
  },
  'goods.arrivedReminder': {
    subject: 'Haben Sie es? {title}',
    text: 'Guten Tag {name},\n\nzur Bestellung {number}, {title}, ist eingetroffen ({receipt}), {place}; Sie haben noch nicht gesagt, ob Sie es haben:\n\n{what}\n\nSagen Sie es hier, ohne Anmeldung: {link}\nDie Lieferung: {path}\n',
  },
  'goods.notAsShould': {
    subject: 'Bestellung {number}: {who} hat es nicht, wie es sein soll',
    text: 'Guten Tag {name},\n\n{who} sagt zu dem, was mit {receipt} für {title} eingetroffen ist: „{note}“\n\n{what}\n\nDie Lieferung: {path}\n',
  },
  'goods.noWord': {
    subject: 'Bestellung {number}: kein Wort von {who}',
    text: 'Guten Tag {name},\n\n{who} wurde gefragt, ob da ist, was mit {receipt} für {title} eingetroffen ist, {place}, und hat nichts gesagt:\n\n{what}\n\nDie Lieferung: {path}\n',
  },
  'goods.setAside': {
    subject: 'Nicht bestellt? {title}',
    text: 'Guten Tag {name},\n\n{who} hat {quantity} {unit} {title} beiseitegestellt ({number}), {place}: Es ist nicht bekannt, zu welcher Bestellung es gehört.[marks|\nWas darauf steht: {marks}][note|\n\n„{note}“]\n\nSagen Sie, was daraus wird: {path}\n',
  },
  'report.accepted': {
    subject: 'Leistungsmeldung {number} ist abgenommen: {title}',
    text: 'Guten Tag [name|{name}],\n\nvon Ihrer Meldung {number} zur Bestellung {order} sind {quantity} von {told} abgenommen.[reason|\n\n{reason}]\n\n{path}\n\n{house}\n',
  },
  'report.refused': {
    subject: 'Leistungsmeldung {number} ist nicht abgenommen: {title}',
    text: 'Guten Tag [name|{name}],\n\nIhre Meldung {number} zur Bestellung {order} ist nicht abgenommen: {reason}\n\nSie können sie auf Ihren Seiten neu melden: {path}\n\n{house}\n',
  },
  'event.quotes': {
    subject: 'Preisanfrage {number}: {title}',
    text: 'Guten Tag [name|{name}],\n\nbitte machen Sie uns ein Angebot für {title}.[message|\n\n{message}]\n\nWas wir anfragen, und Ihre Antwort: {path}\nSie zählt bis {ends}.\n\n{by}\n{house}\n',
  },
  'event.auction': {
    subject: 'Auktion {number}: {title}',
    text: 'Guten Tag [name|{name}],\n\nwir laden Sie zu einer Auktion für {title} ein. Sie beginnt {opens}.[message|\n\n{message}]\n\nBedingungen, Lose und Ihre Gebote: {path}\n\n{by}\n{house}\n',
  },
  'event.reminder': {
    subject: '{number} endet {ends}: {title}',
    text: 'Guten Tag [name|{name}],\n\nuns fehlt noch Ihre Antwort auf {number}, {title}. Sie zählt bis {ends}.[note|\n\n{note}]\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.beforeOpening': {
    subject: '{number} öffnet {opens}: {title}',
    text: 'Guten Tag [name|{name}],\n\n{number}, {title}, öffnet {opens}.\n\n{note}\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.beforeEnd': {
    subject: '{number} endet {ends}: {title}',
    text: 'Guten Tag [name|{name}],\n\n{number}, {title}, endet {ends}.\n\n{note}\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.atEnd': {
    subject: '{number} ist zu Ende: {title}',
    text: 'Guten Tag [name|{name}],\n\n{number}, {title}, ist zu Ende.\n\n{note}\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.extend': {
    subject: '{number}: mehr Zeit, bis {ends}',
    text: 'Guten Tag [name|{name}],\n\n{number}, {title}, endet nun {ends}; das erfahren alle Angefragten.[reason|\n\n„{reason}“]\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.beginAgain': {
    subject: '{number} geht weiter, bis {ends}',
    text: 'Guten Tag [name|{name}],\n\n{number}, {title}, geht bis {ends} weiter. Was Sie abgegeben haben, gilt noch und kann geändert werden.[reason|\n\n„{reason}“]\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.cancelled': {
    subject: '{number} ist abgesagt: {title}',
    text: 'Guten Tag [name|{name}],\n\n{number}, {title}, ist abgesagt. Danke für Ihre Mühe.[reason|\n\n„{reason}“]\n\n{by}\n{house}\n',
  },
  'event.lineDropped': {
    subject: '{number}: eine Position entfällt',
    text: 'Guten Tag [name|{name}],\n\nin {number}, {title}, wird dies nicht mehr angefragt: {line}.[reason|\n\n„{reason}“]\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.answered': {
    subject: '{number}: Ihre Antwort ist da',
    text: 'Guten Tag [name|{name}],\n\nIhre Antwort auf {number}, {title}, ist da[behalf|, für Sie eingetragen von {behalf}].[ends| Bis {ends} können Sie sie ändern.]\n\n{path}\n\n{house}\n',
  },
  'event.message': {
    subject: '{number}: eine Nachricht',
    text: 'Guten Tag [name|{name}],\n\n{by} schreibt zu {number}, {title}:\n\n„{text}“\n\nBitte antworten Sie auf Ihren Seiten: {path}\n\n{house}\n',
  },
  'event.suspended': {
    subject: '{number}: Sie können zurzeit nicht bieten',
    text: 'Guten Tag [name|{name}],\n\nzurzeit können Sie in {number}, {title}, nicht antworten und nicht bieten. Nachrichten können Sie lesen und schreiben.[reason|\n\n„{reason}“]\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.lifted': {
    subject: '{number}: Sie können wieder bieten',
    text: 'Guten Tag [name|{name}],\n\nin {number}, {title}, können Sie wieder antworten und bieten.[reason|\n\n„{reason}“]\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.consent': {
    subject: '{number}: wir tragen für Sie ein',
    text: 'Guten Tag [name|{name}],\n\nwir haben vermerkt, dass {who} uns am {day} gebeten hat, Ihre Antwort auf {number}, {title}, für Sie einzutragen. Wenn das nicht stimmt, schreiben Sie uns bitte gleich.\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.bidRemoved': {
    subject: '{number}: ein Gebot von Ihnen ist herausgenommen',
    text: 'Guten Tag [name|{name}],\n\nIhr Gebot von {currency} {total} in {number}, {title}, ist herausgenommen; das davor gilt wieder.[reason|\n\n„{reason}“]\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.day.pause': {
    subject: '{number} ist unterbrochen',
    text: 'Guten Tag [name|{name}],\n\nin {number}, {title}, ist dies für alle unterbrochen: {lots}.[reason|\n\n„{reason}“]\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.day.resume': {
    subject: '{number} geht weiter',
    text: 'Guten Tag [name|{name}],\n\nin {number}, {title}, geht dies weiter: {lots}.[reason|\n\n„{reason}“]\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.day.extend': {
    subject: '{number}: {minutes} Minuten mehr',
    text: 'Guten Tag [name|{name}],\n\nin {number}, {title}, endet dies für alle {minutes} Minuten später: {lots}.[reason|\n\n„{reason}“]\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.day.end': {
    subject: '{number} endet vorzeitig',
    text: 'Guten Tag [name|{name}],\n\nin {number}, {title}, ist dies für alle beendet: {lots}.[reason|\n\n„{reason}“]\n\n{path}\n\n{by}\n{house}\n',
  },
  'agreement.approved': {
    subject: 'Vereinbarung {number} ist genehmigt: {title}',
    text: 'Guten Tag {name},\n\n{by} hat die Vereinbarung {number}, {title}, genehmigt. Sie gilt ab jetzt.[reason|\n\n„{reason}“]\n\n{path}\n',
  },
  'agreement.refused': {
    subject: 'Vereinbarung {number} ist abgelehnt: {title}',
    text: 'Guten Tag {name},\n\n{by} hat die Vereinbarung {number}, {title}, nicht genehmigt.[reason|\n\n„{reason}“]\n\nSie wartet auf Sie: {path}\n',
  },
  'agreement.spent': {
    subject: 'Rahmenvertrag {number} ist ausgeschöpft: {request}, {title}',
    text: 'Guten Tag {name},\n\nRahmenvertrag {number} mit {who} bietet nichts mehr an. Ihr Entwurf {request}, {title}, nennt ihn noch:\n\n{lines}\n\nHier ändern: {path}\n',
  },
  'agreement.ends': {
    subject: 'Vereinbarung {number} endet in {figure} Tagen',
    text: 'Guten Tag {name},\n\ndie Vereinbarung {number}, {title}, mit {supplier} endet am {validTo}. Ändern Sie sie, oder sorgen Sie für das, was ihr folgt.\n\n{path}\n',
  },
  'agreement.nearlyUsed': {
    subject: 'Vereinbarung {number} ist zu {figure} % ausgeschöpft',
    text: 'Guten Tag {name},\n\nvon der Vereinbarung {number}, {title}, mit {supplier} sind {figure} % abgerufen. Sie endet am {validTo}.\n\n{path}\n',
  },
  'event.award.approved': {
    subject: '{number}: die Vergabe ist genehmigt',
    text: 'Guten Tag {name},\n\n{by} hat die Vergabe von {number}, {title}, genehmigt.[reason|\n\n„{reason}“]\n\nBestellungen können folgen: {path}\n',
  },
  'event.award.refused': {
    subject: '{number}: die Vergabe ist abgelehnt',
    text: 'Guten Tag {name},\n\n{by} hat die Vergabe von {number}, {title}, nicht genehmigt.[reason|\n\n„{reason}“]\n\nSie wartet auf Sie: {path}\n',
  },
  'event.won': {
    subject: '{number}: wir möchten bei Ihnen kaufen',
    text: 'Guten Tag [name|{name}],\n\ndanke für Ihre Antwort auf {number}, {title}. Wir möchten bei Ihnen kaufen: {what}. Die Bestellung folgt.[place|\n\nNach Kosten sind Sie Nummer {place}.]\n\n{path}\n\n{by}\n{house}\n',
  },
  'event.lost': {
    subject: '{number}: danke für Ihre Antwort',
    text: 'Guten Tag [name|{name}],\n\ndanke für Ihre Antwort auf {number}, {title}. Diesmal kaufen wir anderswo.[place|\n\nNach Kosten waren Sie Nummer {place}.][price| Vergeben wird es insgesamt für {price}.]\n\n{path}\n\n{by}\n{house}\n',
  },
  'order.issued': {
    subject: 'Bestellung {number}, Fassung {revision}: {title}',
    text: 'Guten Tag[name| {name}],\n\nanbei unsere Bestellung {number} über {currency} {total}.\n\nAuf Ihren Seiten können Sie sie bestätigen, eine Änderung vorschlagen und Ihre Rechnung stellen: {path}\n\n{by}\n{house}\n',
  },
  'order.revised': {
    subject: 'Bestellung {number}, Fassung {revision}: {title}',
    text: 'Guten Tag[name| {name}],\n\nanbei Fassung {revision} unserer Bestellung {number} über {currency} {total}. Sie ersetzt die frühere.[reason|\nWas sich geändert hat: {reason}]\n\nAuf Ihren Seiten können Sie sie bestätigen, eine Änderung vorschlagen und Ihre Rechnung stellen: {path}\n\n{by}\n{house}\n',
  },
  'order.chased.answer': {
    subject: 'Bestellung {number}: bitte antworten Sie',
    text: 'Guten Tag[name| {name}],\n\nauf unsere Bestellung {number}, {title}, haben wir noch keine Antwort[needBy|; wir brauchen sie bis {needBy}].[note|\n\n{note}]\n\nBitte bestätigen Sie sie oder sagen Sie uns auf Ihren Seiten, was möglich ist: {path}\n\n{by}\n{house}\n',
  },
  'order.chased.delivery': {
    subject: 'Bestellung {number} ist überfällig',
    text: 'Guten Tag[name| {name}],\n\nunsere Bestellung {number}, {title}, war bis {needBy} gebraucht und ist noch nicht vollständig da.[note|\n\n{note}]\n\n[link|Sagen Sie hier den neuen Tag, ohne Anmeldung: {link}\n\n]Ihre Seiten: {path}\n\n{by}\n{house}\n',
  },
  'order.handOn': {
    subject: 'Weiterzugeben: Bestellung {number}, Fassung {revision}, für {supplier}',
    text: 'Guten Tag {name},\n\nFassung {revision} der Bestellung {number}, {title}, ist erteilt: {currency} {total}. {supplier} bekommt Bestellungen durch Sie; was dazu gehört, liegt bei.[reason|\nWas sich ändert: {reason}]\n\nWenn sie dort ist, sagen Sie es hier: {path}\n',
  },
  'order.handOnCancelled': {
    subject: 'Weiterzugeben: Bestellung {number} ist storniert',
    text: 'Guten Tag {name},\n\ndie Bestellung {number}, {title}, ist storniert: {reason}\n\nIhr Lieferant bekommt Bestellungen durch Sie und muss es erfahren. Die Stornierung liegt bei.\n\n{by}\n',
  },
  'order.cancelled': {
    subject: 'Bestellung {number} ist storniert',
    text: 'Guten Tag {name},\n\nwir stornieren die Bestellung {number}, {title}. {reason}\n\n{by}\n{house}\n',
  },
  'order.answer.accepted': {
    subject: 'Bestellung {number}: Ihr Vorschlag ist angenommen',
    text: 'Guten Tag {name},\n\nIhr Vorschlag zur Bestellung {number} ist angenommen.[reason|\n\n„{reason}“]\n\n{path}\n',
  },
  'order.revisedTogether': {
    subject: '{count} Bestellungen sind geändert: {numbers}',
    text: 'Guten Tag {name},\n\ndiese Bestellungen sind geändert: {numbers}.[reason| {reason}]\n\nDie Fassungen liegen bei; nur sie gelten ab jetzt. Bitte bestätigen Sie sie: {path}\n\n{by}\n{house}\n',
  },
  'order.daySaid': {
    subject: 'Bestellung {number}: {who} sagt {days}',
    text: 'Guten Tag {name},\n\n{who} sagt zur Bestellung {number}, {title}: {days}.[note|\n\n„{note}“]\n\n{path}\n',
  },
  'order.answer.part': {
    subject: 'Bestellung {number}: Ihr Vorschlag ist teilweise angenommen',
    text: 'Guten Tag {name},\n\nein Teil Ihres Vorschlags zur Bestellung {number}, {title}, ist angenommen. Das Übrige bleibt wie bestellt:\n\n„{reason}“\n\nBitte antworten Sie noch einmal: {path}\n',
  },
  'order.answerRecorded': {
    subject: 'Bestellung {number}: Ihre Antwort ist notiert',
    text: 'Guten Tag {name},\n\n{who} hat die Bestellung {number}, {title}, am {on} beantwortet; wir haben das in Ihrem Namen notiert.[lines| Sie weicht in {lines} Zeilen von der Bestellung ab.]\n\nWenn das nicht stimmt, sagen Sie es uns bitte: {path}\n\n{by}\n{house}\n',
  },
  'order.answer.refused': {
    subject: 'Bestellung {number}: Ihr Vorschlag ist abgelehnt',
    text: 'Guten Tag {name},\n\nIhr Vorschlag zur Bestellung {number} ist abgelehnt. Die Bestellung gilt, wie sie ist; bitte antworten Sie noch einmal.[reason|\n\n„{reason}“]\n\n{path}\n',
  },
  'requisition.waits': {
    subject: '{number} wartet auf Sie: {title}',
    text: 'Guten Tag {name},\n\n{requester} bittet um {title}: {currency} {total}[needBy|, gebraucht bis {needBy}].[inPlace|\nSie entscheiden an Stelle von {inPlace}.][why|\nEs kommt zu Ihnen nach der Regel {why}.][lines|\n\n{lines}][changes|\n\nGeändert, seit danach gefragt wurde:\n{changes}][budget|\n\nDanach bleibt:\n{budget}][past|\n\nGegenüber dem letzten Mal:\n{past}][yes|\n\nGenehmigen: {yes}\nAblehnen: {no}][answer|\n\nOder antworten Sie auf diese Mail. Beginnen Sie mit Ja, mit Nein und warum, oder mit Frage und was Sie wissen möchten.][yes|\n\nMit dieser Mail wird einmal entschieden, bis {until}.]\n\nAuf Ihrem Desk: {path}\n',
  },
  'requisition.approved': {
    subject: '{number} ist genehmigt: {title}',
    text: 'Guten Tag {name},\n\n{number}, {title}, ist genehmigt von {by}.[reason|\n\n„{reason}“]\n\n{path}\n',
  },
  'requisition.rejected': {
    subject: '{number} ist abgelehnt: {title}',
    text: 'Guten Tag {name},\n\n{number}, {title}, ist abgelehnt von {by}.[reason|\n\n„{reason}“]\n\n{path}\n',
  },
  'requisition.returned': {
    subject: '{number} kommt zurück: {title}',
    text: 'Guten Tag {name},\n\n{by} gibt {number}, {title}, zurück.[reason|\n\n„{reason}“]\n\n{path}\n',
  },
  'requisition.reminder': {
    subject: 'Wartet noch: {number}, {title}',
    text: 'Guten Tag {name},\n\n{by} bittet Sie, über {number}, {title}, zu entscheiden[needBy|; gebraucht bis {needBy}].[inPlace|\nSie entscheiden an Stelle von {inPlace}.][lines|\n\n{lines}][changes|\n\nGeändert, seit danach gefragt wurde:\n{changes}][budget|\n\nDanach bleibt:\n{budget}][yes|\n\nGenehmigen: {yes}\nAblehnen: {no}][answer|\n\nOder antworten Sie auf diese Mail. Beginnen Sie mit Ja, mit Nein und warum, oder mit Frage und was Sie wissen möchten.][yes|\n\nMit dieser Mail wird einmal entschieden, bis {until}.]\n\n{path}\n',
  },
  'order.excess.approved': {
    subject: 'Bestellung {number} darf mehr kosten: {title}',
    text: 'Guten Tag {name},\n\n{by} hat zugestimmt, dass die Bestellung {number}, {title}, {currency} {amount} mehr kostet als genehmigt.[reason|\n\n„{reason}“]\n\nSie wartet auf Sie: {path}\n',
  },
  'order.excess.refused': {
    subject: 'Bestellung {number} darf nicht mehr kosten: {title}',
    text: 'Guten Tag {name},\n\n{by} hat nicht zugestimmt, dass die Bestellung {number}, {title}, {currency} {amount} mehr kostet als genehmigt.[reason|\n\n„{reason}“]\n\n{path}\n',
  },
  'invoice.difference.approved': {
    subject: 'Die Abweichung in {number} ist angenommen: {title}',
    text: 'Guten Tag {name},\n\n{by} hat die Abweichung von {currency} {amount} in {number}, {title}, angenommen.[reason|\n\n„{reason}“]\n\n{path}\n',
  },
  'invoice.difference.refused': {
    subject: 'Die Abweichung in {number} ist nicht angenommen: {title}',
    text: 'Guten Tag {name},\n\n{by} hat die Abweichung von {currency} {amount} in {number}, {title}, nicht angenommen.[reason|\n\n„{reason}“]\n\nSie hält die Rechnung weiter auf: {path}\n',
  },
  'note.mentioned': {
    subject: '{by} nennt Sie bei {number}: {title}',
    text: 'Guten Tag {name},\n\n{by} schrieb zu {number}, {title}:\n\n„{text}“\n\n{path}\n',
  },
  'requisition.question': {
    subject: 'Eine Frage zu {number}: {title}',
    text: 'Guten Tag {name},\n\n{by} fragt vor dem Kauf zu {number}:\n\n„{question}“\n\nDer Einkauf wartet auf Ihre Antwort: {path}\n',
  },
  'requisition.askedFirst': {
    subject: 'Eine Frage zu {number}: {title}',
    text: 'Guten Tag {name},\n\nvor der Entscheidung über {number} fragt {by}:\n\n„{question}“\n\nDie Entscheidung wartet auf Ihre Antwort: {path}\n',
  },
  'requisition.edited': {
    subject: 'Geändert: {number}, {title}',
    text: 'Guten Tag {name},\n\n{by} hat {number}, {title}, geändert, seit danach gefragt wurde.[reason|\n\n„{reason}“][changes|\n\n{changes}]\n\n{path}\n',
  },
  'requisition.late': {
    subject: 'Über der Zeit: {number}, {title}',
    text: 'Guten Tag {name},\n\n{number}, {title}, von {requester} wartet auf {who}; die Zeit dafür ist vorbei.\n\n{path}\n',
  },
  'decision.taken': {
    subject: 'Erledigt: {number}, {title}',
    text: 'Guten Tag {name},\n\n[approve|Sie haben {number}, {title}, genehmigt.][reject|Sie haben {number}, {title}, abgelehnt.][ask|Ihre Frage zu {number}, {title}, ist unterwegs. Die Entscheidung wartet auf die Antwort.][inPlace|\nSie haben an Stelle von {inPlace} entschieden.]\n\n{path}\n',
  },
  'decision.notTaken': {
    subject: 'Nicht erledigt: {number}, {title}',
    text: 'Guten Tag {name},\n\nIhre Antwort zu {number}, {title}, wurde nicht angenommen. {why}\n\nAuf Ihrem Desk: {path}\n',
  },
  'requisition.answer': {
    subject: 'Antwort zu {number}: {title}',
    text: 'Guten Tag {name},\n\nSie haben gefragt: „{question}“\n{by} antwortet: „{answer}“\n\n{path}\n',
  },
  'payment.remittance': {
    subject: 'Zahlungsavis: {currency} {amount} zur Rechnung {invoice}',
    text: 'Guten Tag {name},\n\nam {day} haben wir {currency} {amount} zu Ihrer Rechnung {invoice} vom {issueDate} auf das Konto mit den letzten Stellen {ending} überwiesen. Referenz: {reference}.\n\n{house}\n',
  },
  'supplier.accountChanged': {
    subject: 'Ihr Bankkonto bei {house} wurde geändert',
    text: 'Guten Tag {name},\n\ndas Konto, auf das wir {supplier} zahlen, wurde geändert: Es endet jetzt auf {ending}. Wir zahlen darauf erst, wenn eine zweite Person es mit Ihnen geprüft hat.\n\nWenn Sie das nicht gewollt haben, rufen Sie uns bitte unter der Nummer an, die Sie kennen.\n',
  },
  'supplier.merged': {
    subject: 'Ihr Eintrag bei {house} wurde mit einem anderen zusammengeführt',
    text: 'Guten Tag {name},\n\n{merged} und {kept} sind für uns ab jetzt ein Lieferant. Was bei {merged} offen ist, auch unbezahlte Rechnungen, läuft unter {kept} weiter und wird auf das Konto mit den letzten Stellen {ending} gezahlt.\n\nWenn das nicht stimmt, rufen Sie uns bitte unter der Nummer an, die Sie kennen.\n',
  },
  'supplier.certificate': {
    subject: '{kind}: [lapsed|abgelaufen am {lapsed}][days|endet in {days} Tagen]',
    text: 'Guten Tag[name| {name}],\n\nIhr Nachweis „{kind}“, Nummer {number}, [lapsed|ist am {lapsed} abgelaufen][days|endet in {days} Tagen].\nBitte stellen Sie den neuen auf Ihre Seiten: {path}\n\n{house}\n',
  },
  'supplier.certificateOwner': {
    subject: '{kind}: [lapsed|abgelaufen am {lapsed}][days|endet in {days} Tagen]',
    text: '{kind}, Nummer {number}, von {supplier} [lapsed|ist am {lapsed} abgelaufen][days|endet in {days} Tagen].\n\n{path}\n',
  },
  'onboarding.invitation': {
    subject: '{by} von {house} bittet {supplier}, sich vorzustellen',
    text: 'Guten Tag {name},\n\nwir möchten bei {supplier} einkaufen. Bitte erzählen Sie uns auf diesen Seiten von Ihrer Firma; Sie können jederzeit unterbrechen und später weitermachen:\n{path}\n\nDer Link gilt einmal und bis {until}.\n[message|\n{message}\n]\n{by}\n{house}\n',
  },
  'onboarding.askedBack': {
    subject: '[one|Eine Frage zu Ihren Antworten][many|{many} Fragen zu Ihren Antworten]',
    text: 'Guten Tag {name},\n\nbitte sehen Sie Ihre Antworten noch einmal an:\n{questions}\n\nIhre Seiten: {path}\n\n{by}\n{house}\n',
  },
  'onboarding.approved': {
    subject: '{supplier} ist jetzt Lieferant von {house}',
    text: 'Guten Tag {name},\n\nvielen Dank. Ab jetzt können Sie Bestellungen von uns bekommen; Sie sehen sie auf Ihren Seiten: {path}\n\n{house}\n',
  },
  'onboarding.orderable': {
    subject: 'Bei {supplier} kann bestellt werden',
    text: 'Guten Tag {name},\n\n{supplier}, von Ihnen vorgeschlagen, ist zugelassen. Sie können jetzt dort etwas anfordern.\n\n{path}\n',
  },
  'onboarding.answersIn': {
    subject: '{by} hat die Antworten abgegeben',
    text: 'Guten Tag {name},\n\nhier sind die Antworten: {path}\n',
  },
  'onboarding.answeredAgain': {
    subject: '{by} hat Ihre Fragen beantwortet',
    text: 'Guten Tag {name},\n\nhier sind die Antworten: {path}\n',
  },
  'company.invitation': {
    subject: '{by} hat Ihnen ein Konto eingerichtet',
    text: 'Guten Tag {name},\n\nauf diesen Seiten sehen Sie, was {house} bei {supplier} bestellt. Wählen Sie hier ein Passwort; der Link gilt einmal und {days} Tage:\n{path}\n',
  },
  'account.digest': {
    subject: '[one|Eines seit gestern][many|{many} Dinge seit gestern]',
    text: 'Guten Tag {name},\n\n{list}\n\n{house}\n',
  },
  'account.digestDecision': {
    subject: '{number}: {title}',
    text: '[inPlace|Sie entscheiden an Stelle von {inPlace}.\n][why|Es kommt zu Ihnen nach der Regel {why}.\n][lines|{lines}\n][changes|Geändert, seit danach gefragt wurde:\n{changes}\n][budget|Danach bleibt:\n{budget}\n][past|Gegenüber dem letzten Mal:\n{past}\n]Genehmigen: {yes}\nAblehnen: {no}\nDas entscheidet einmal, bis {until}.\n',
  },
  'account.invitation': {
    subject: '{by} hat Ihnen ein Konto eingerichtet',
    text: 'Guten Tag {name},\n\n{by} hat Ihnen bei {house} ein Konto eingerichtet. Wählen Sie hier ein Passwort; der Link gilt einmal und vierzehn Tage:\n{path}\n',
  },
  'account.reset': {
    subject: 'Ein neues Passwort für Ihr Konto',
    text: 'Guten Tag {name},\n\njemand, wohl Sie selbst, möchte für Ihr Konto bei {house} ein neues Passwort wählen. Das geht hier; der Link gilt einmal und eine Stunde:\n{path}\n\nWaren Sie es nicht, tun Sie nichts: Das bisherige gilt weiter.\n',
  },
  'account.addressChanged': {
    subject: 'Die Adresse Ihres Kontos wurde geändert',
    text: 'Guten Tag {name},\n\n{by} hat die Adresse Ihres Kontos bei {house} auf {email} geändert. Ab jetzt geht Post dorthin.\n\nWenn das nicht stimmt, rufen Sie uns bitte unter der Nummer an, die Sie kennen.\n',
  },
  'company.administrator': {
    subject: '{person} betreut jetzt die Konten von {supplier}',
    text: 'Guten Tag {name},\n\n{person} verwaltet jetzt die Konten von {supplier} auf unseren Seiten.\nGrund: {reason}\n\nWenn das nicht stimmt, rufen Sie uns bitte unter der Nummer an, die Sie kennen.\n',
  },
}
