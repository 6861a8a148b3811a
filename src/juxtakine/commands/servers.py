"""Commands that run a server, load the demo, or say what is missing."""

import argparse

from juxtakine.settings import settings


def serve(arguments: argparse.Namespace) -> int:
    import uvicorn

    uvicorn.run("juxtakine.web.app:app", host="127.0.0.1", port=arguments.port, log_level="warning")
    return 0


def work(arguments: argparse.Namespace) -> int:
    from juxtakine.jobs.worker import work

    return work()


def demo(arguments: argparse.Namespace) -> int:
    from juxtakine.demo.load import load

    return load()


def doctor(arguments: argparse.Namespace) -> int:
    from juxtakine.servers.doctor import complaints

    found = complaints(settings())
    for sentence in found:
        print(sentence)
    if not found:
        print("Nothing is missing.")
    return 1 if found else 0
