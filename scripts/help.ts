process.stdout.write(`Ivory Order

  ./ivory start [--fresh] [--port N] [--empty]   start everything with the demo scenario; --fresh starts over, --empty leaves the demo out
  ./ivory stop                                   end everything that start began
  ./ivory test [--only lint|types|unit|browser] [PATTERN]
                                                 lint, types, unit, API, database and browser tests; last line: N passed, N failed
  ./ivory audit                                  re-add both ledgers and check every history chain
  ./ivory bench [NAME…] [--json] [--small]       performance figures as ratios to a baseline of the same run
  ./ivory shots                                  retake docs/screenshots/ from the demo data
  ./ivory import suppliers|items FILE [--dry-run] [--as EMAIL]
                                                 load a CSV file, all rows or none
  ./ivory check-invoice FILE                     read an e-invoice, print it as JSON with every violated rule; exit code 0 or 1

DATABASE_URL uses an existing PostgreSQL; IVORY_DATA says where a private one is kept.
`)
