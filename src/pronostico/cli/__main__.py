"""`python -m pronostico.cli`, where the command is not on the path."""

from pronostico.cli import main

main()
