"""What can't be done, as a sentence and an HTTP status."""

from fastapi.responses import JSONResponse

from juxtakine.web.schemas import Problem


class Refused(Exception):
    """A sentence and an HTTP status; nothing is changed where it is raised."""

    def __init__(self, sentence: str, status: int = 409) -> None:
        super().__init__(sentence)
        self.status = status


def say(status: int, problem: Problem) -> JSONResponse:
    return JSONResponse(problem.model_dump(), status)
