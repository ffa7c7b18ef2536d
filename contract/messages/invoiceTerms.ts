/** Business terms of EN 16931-1 (section 6.3) by their numbers, as they are called there. */
const TERMS: readonly (readonly [number, string])[] = [
  [1, 'Number'], [2, 'Issue date'], [3, 'Type code'], [5, 'Currency'], [6, 'VAT accounting currency'], [7, 'Tax point date'], [8, 'Tax point code'], [9, 'Payment due date'], [10, 'Buyer reference'],
  [11, 'Project'], [12, 'Contract'], [13, 'Purchase order'], [14, 'Sales order'], [15, 'Receiving advice'], [16, 'Despatch advice'], [17, 'Tender or lot'], [18, 'Invoiced object'], [19, 'Buyer accounting reference'], [20, 'Payment terms'],
  [21, 'Subject'], [22, 'Note'], [23, 'Business process'], [24, 'Specification'], [25, 'Preceding invoice'], [26, 'Its date'],
  [27, 'Name'], [28, 'Trading name'], [29, 'Identifier'], [30, 'Legal registration'], [31, 'VAT identifier'], [32, 'Tax registration'], [33, 'Legal information'], [34, 'Electronic address'], [35, 'Street'], [36, 'Second line'], [162, 'Third line'], [37, 'City'], [38, 'Post code'], [39, 'Region'], [40, 'Country'], [41, 'Contact'], [42, 'Telephone'], [43, 'E-mail'],
  [44, 'Name'], [45, 'Trading name'], [46, 'Identifier'], [47, 'Legal registration'], [48, 'VAT identifier'], [49, 'Electronic address'], [50, 'Street'], [51, 'Second line'], [163, 'Third line'], [52, 'City'], [53, 'Post code'], [54, 'Region'], [55, 'Country'], [56, 'Contact'], [57, 'Telephone'], [58, 'E-mail'],
  [59, 'Name'], [60, 'Identifier'], [61, 'Legal registration'], [62, 'Name'], [63, 'VAT identifier'], [64, 'Street'], [65, 'Second line'], [164, 'Third line'], [66, 'City'], [67, 'Post code'], [68, 'Region'], [69, 'Country'],
  [70, 'Deliver to party'], [71, 'Location'], [72, 'Delivered on'], [73, 'From'], [74, 'To'], [75, 'Street'], [76, 'Second line'], [165, 'Third line'], [77, 'City'], [78, 'Post code'], [79, 'Region'], [80, 'Country'],
  [81, 'Payment means code'], [82, 'Payment means'], [83, 'Remittance information'], [84, 'Account'], [85, 'Account name'], [86, 'Bank identifier'], [87, 'Card number'], [88, 'Card holder'], [89, 'Mandate'], [90, 'Creditor identifier'], [91, 'Debited account'],
  [92, 'Amount'], [93, 'Base amount'], [94, 'Per cent'], [95, 'VAT category'], [96, 'VAT rate'], [97, 'Reason'], [98, 'Reason code'], [99, 'Amount'], [100, 'Base amount'], [101, 'Per cent'], [102, 'VAT category'], [103, 'VAT rate'], [104, 'Reason'], [105, 'Reason code'],
  [106, 'Sum of lines'], [107, 'Sum of allowances'], [108, 'Sum of charges'], [109, 'Total without VAT'], [110, 'VAT'], [111, 'VAT in accounting currency'], [112, 'Total with VAT'], [113, 'Paid'], [114, 'Rounding'], [115, 'Amount due'],
  [116, 'Taxable amount'], [117, 'Tax amount'], [118, 'VAT category'], [119, 'VAT rate'], [120, 'Exemption reason'], [121, 'Exemption code'], [122, 'Document'], [123, 'Description'], [124, 'Address'], [125, 'Attached file'],
  [126, 'Line'], [127, 'Note'], [128, 'Invoiced object'], [129, 'Quantity'], [130, 'Unit'], [131, 'Net amount'], [132, 'Order line'], [133, 'Buyer accounting reference'], [134, 'From'], [135, 'To'], [136, 'Amount'], [137, 'Base amount'], [138, 'Per cent'], [139, 'Reason'], [140, 'Reason code'], [141, 'Amount'], [142, 'Base amount'], [143, 'Per cent'], [144, 'Reason'], [145, 'Reason code'],
  [146, 'Net price'], [147, 'Price discount'], [148, 'Gross price'], [149, 'Price for a quantity of'], [150, 'In the unit'], [151, 'VAT category'], [152, 'VAT rate'], [153, 'Name'], [154, 'Description'], [155, 'Seller’s item number'], [156, 'Buyer’s item number'], [157, 'Standard item number'], [158, 'Classification'], [159, 'Country of origin'], [160, 'Attribute'], [161, 'Value'],
] // prettier-ignore
const GROUPS: readonly (readonly [number, string])[] = [
  [0, 'Document'], [1, 'Note'], [2, 'Process'], [3, 'Preceding invoice'], [4, 'Seller'], [5, 'Seller’s address'], [6, 'Seller’s contact'], [7, 'Buyer'], [8, 'Buyer’s address'], [9, 'Buyer’s contact'], [10, 'Payee'], [11, 'Seller’s tax representative'], [12, 'Representative’s address'],
  [13, 'Delivery'], [14, 'Invoicing period'], [15, 'Delivery address'], [16, 'Payment instructions'], [17, 'Credit transfer'], [18, 'Card'], [19, 'Direct debit'], [20, 'Allowance'], [21, 'Charge'], [22, 'Totals'], [23, 'VAT breakdown'], [24, 'Supporting document'],
  [25, 'Line'], [26, 'Period of the line'], [27, 'Allowance of the line'], [28, 'Charge of the line'], [29, 'Price of the line'], [30, 'VAT of the line'], [31, 'Item of the line'], [32, 'Attribute of the line'],
] // prettier-ignore
const terms = new Map(TERMS.map(([number, words]) => [`BT-${number}`, words]))
const groups = new Map(GROUPS.map(([number, words]) => [`BG-${number}`, words]))

/** termWords('BT-9') //=> 'Payment due date' */
export const termWords = (term: string): string => terms.get(term) ?? term
/** groupWords('BG-4') //=> 'Seller' */
export const groupWords = (group: string): string => groups.get(group) ?? group
