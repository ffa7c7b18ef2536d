process.stdout.write(`Ivory Order

  ./ivory start [--fresh [--yes]] [--port N] [--empty]
                                                 start everything with the demo scenario; --fresh starts over (and asks), --empty leaves the demo out
  ./ivory stop                                   end everything that start began
  ./ivory setup --file house.json | --link       set an empty house up from a file, or show the link of the page that asks
  ./ivory serve, ./ivory work                    one web server, one job worker, on the database that DATABASE_URL names
  ./ivory migrate                                bring the database up to this version
  ./ivory backup FILE, ./ivory restore FILE      everything into one file while work goes on, and back into an empty database
  ./ivory forget EMAIL --export FILE | --reason WHY
                                                 hand out what is kept about a person, or take one who left out, for good
  ./ivory test [--only lint|types|unit|browser] [PATTERN]
                                                 lint, types, unit, API, database and browser tests; last line: N passed, N failed
  ./ivory audit                                  re-add both ledgers and check every history chain
  ./ivory bench [NAME…] [--json] [--small]       performance figures as ratios to a baseline of the same run
  ./ivory fuzz [--minutes N] [--seed N]          send a copy of the demo what nobody should send; every fault of ours is printed
  ./ivory chaos [--minutes N] [--seed N]         ten people work on a copy of the demo while its processes are killed; then re-add everything
  ./ivory shots                                  retake docs/screenshots/ from the demo data
  ./ivory import suppliers|items FILE [--dry-run] [--as EMAIL]
                                                 load a CSV file, all rows or none
  ./ivory award FILE [--seconds N] [--json]      find the cheapest award of an instance file, with what no award can undercut
  ./ivory check-invoice FILE… [--json] [--set X] read e-invoices (XML, PDF, ZIP), say every broken rule; ends with 0, 1 or 2 (unreadable)

DATABASE_URL uses an existing PostgreSQL; IVORY_DATA says where a private one is kept.
`)
