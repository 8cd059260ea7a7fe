import os

from yeasty.worker.main import main

main(os.environ["DATABASE_URL"])
