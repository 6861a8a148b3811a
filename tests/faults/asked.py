"""Odd requests: every operation of the interface, with bodies that fit its description, that don't, and with values
that no number, word or list should be. Whatever is asked, the answer is no fault of the server's, and comes soon."""

import json
import time
from contextlib import suppress
from dataclasses import dataclass, field
from random import Random
from typing import Any

import httpx
import schemathesis
from hypothesis import HealthCheck, Phase, given, seed, settings
from hypothesis import strategies as st
from hypothesis.errors import Unsatisfiable

from juxtakine.web.app import app

SLOW_S = 20.0
ODD: tuple[Any, ...] = (
    1e308, -1e308, float("nan"), float("inf"), 10**30, -1, 0, 2**31, 2**63, "", "\ud800", "\0", "x" * 100_000, [], {},
    None, True, [[[[[[]]]]]], list(range(5000)), "1 & 2 " * 400, "A x32," * 100, "‮\u200b",
)  # fmt: skip


@dataclass
class Asked:
    """`own` are a routine and two clips that are there."""

    address: str
    own: dict[str, list[int]]
    asked: int = 0
    wrong: list[str] = field(default_factory=list)

    def send(self, method: str, path: str, **more: Any) -> None:
        began = time.monotonic()
        try:
            answer = httpx.request(method, self.address + path, timeout=60, **more)
            status, said = answer.status_code, answer.text[:200]
        except (httpx.InvalidURL, UnicodeError):
            return  # no client sends it
        except httpx.HTTPError as error:
            status, said = 599, repr(error)
        self.asked += 1
        spent = time.monotonic() - began
        if status >= 500 or spent > SLOW_S:
            told = str(more.get("content"))[:4000]
            self.wrong.append(f"{method} {path[:200]}: {status} in {spent:.1f} s: {said} for {told}")


def ask(address: str, own: dict[str, list[int]], examples: int, first: int) -> Asked:
    """`examples` of each kind for each operation, from the seed `first` on."""
    made, random = Asked(address, own), Random(first)
    schema = schemathesis.openapi.from_dict(app.openapi())
    for n, result in enumerate(schema.get_all_operations()):
        operation = result.ok()
        for mode in (schemathesis.GenerationMode.POSITIVE, schemathesis.GenerationMode.NEGATIVE):
            _ask(made, operation.as_strategy(generation_mode=mode), examples, first + n, random)
    return made


def _ask(made: Asked, cases: st.SearchStrategy[Any], examples: int, first: int, random: Random) -> None:
    @seed(first)
    @settings(
        max_examples=examples, deadline=None, database=None, phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )  # fmt: skip
    @given(cases)
    def one(case: Any) -> None:
        told = case.as_transport_kwargs(base_url=made.address)
        path, method = told["url"].removeprefix(made.address), case.method.upper()
        if method != "DELETE" or "/follow" in path or "/anchors" in path:
            path = _own(case, path, made.own, random)
        params, body = told.get("params"), told.get("json")
        headers = {k: str(v) for k, v in dict(told.get("headers") or {}).items() if k.lower() == "content-type"}
        content = told.get("data")
        if isinstance(body, dict | list):
            body = _made_odd(body, random) if random.random() < 0.5 else body
            content, headers = _json(body), {"Content-Type": "application/json"}
        made.send(method, path, params=params, content=content, headers=headers)

    with suppress(Unsatisfiable):  # nothing can be wrong with what takes nothing
        one()


def _own(case: Any, path: str, own: dict[str, list[int]], random: Random) -> str:
    """Mostly of what is there: else all would be answered that it is not."""
    for name, ids in own.items():
        said = (case.path_parameters or {}).get(name)
        if said is not None and random.random() < 0.8:
            path = path.replace(f"/{said}", f"/{random.choice(ids)}", 1)
    return path


def _json(body: Any) -> bytes:
    return json.dumps(body).encode("utf-8", "surrogatepass")


def _made_odd(body: Any, random: Random) -> Any:
    """One value somewhere in it, or a key, is another."""
    if isinstance(body, dict) and body and random.random() < 0.8:
        key = random.choice(list(body))
        return body | {key: _made_odd(body[key], random)}
    if isinstance(body, list) and body and random.random() < 0.8:
        at = random.randrange(len(body))
        return [*body[:at], _made_odd(body[at], random), *body[at + 1 :]]
    return random.choice(ODD)
