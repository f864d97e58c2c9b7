import sys

from drumcore.cli.main import main

sys.exit(main())
