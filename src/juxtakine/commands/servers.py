"""Commands that run a server, load the demo, or say what is missing and mend it."""

import argparse

from juxtakine.commands.said import CommandRefused
from juxtakine.servers.ports import HOST, shared
from juxtakine.settings import settings


def serve(arguments: argparse.Namespace) -> int:
    import uvicorn

    server = uvicorn.Server(
        uvicorn.Config("juxtakine.web.app:app", host=HOST, port=arguments.port, log_level="warning")
    )
    # the kernel parts who comes among those that share a port; one that dies takes only its own with it
    server.run([shared(arguments.port)] if arguments.share_port else None)
    return 0


def work(arguments: argparse.Namespace) -> int:
    from juxtakine.jobs.worker import work

    _check_run()
    return work()


def demo(arguments: argparse.Namespace) -> int:
    from juxtakine.demo.load import load

    _check_run()
    return load()


def _check_run() -> None:
    """Raises Refused where there is no database to work with."""
    if not settings().database_url:
        raise CommandRefused("There is no database: start all of it with make demo, or make serve.")


def doctor(arguments: argparse.Namespace) -> int:
    from juxtakine.servers.doctor import complaints, run_up

    found = complaints(settings())
    for sentence in found or ["Nothing is missing."]:
        print(sentence)
    run = run_up(settings())
    print(f"It is running: {run.address}" if run else "It is not running.")
    if arguments.repair:
        for sentence in _repaired():
            print(sentence)
    return 1 if found else 0


def _repaired() -> list[str]:
    from juxtakine.servers.backing import ServerError
    from juxtakine.servers.doctor import backed

    try:
        with backed(settings()):
            from juxtakine.jobs.mending import tidy
            from juxtakine.store.migrate import migrate

            migrate(settings().database_url)
            return tidy() or ["Clips and database agree: nothing had to be mended."]
    except ServerError as error:
        return [str(error)]
