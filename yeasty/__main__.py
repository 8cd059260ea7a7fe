from yeasty.cli import main

raise SystemExit(main())
