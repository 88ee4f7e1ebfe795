from driftfield.cli.main import main

main(prog_name="bin/driftfield")
