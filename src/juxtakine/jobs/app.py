"""The Celery application, and how a job is put into its queue."""

from celery import Celery

from juxtakine.settings import settings

app = Celery("juxtakine", broker=settings().broker_url, include=["juxtakine.jobs.tasks"])
app.conf.update(
    task_acks_late=True,
    task_reject_on_worker_lost=True,
    task_ignore_result=True,
    worker_prefetch_multiplier=1,
    worker_hijack_root_logger=False,
    broker_connection_retry_on_startup=True,
)


def send(job_id: int) -> None:
    app.send_task("juxtakine.work", args=[job_id])
