"""Views of the door: uploaded files, long work, and what was imported."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import asdict, fields
from functools import lru_cache
from pathlib import Path
from typing import Any, cast

from django.db.models import Max
from django.http import FileResponse, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.parsers import BaseParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from driftfield.api.errors import Problem
from driftfield.api.fields import LARGEST_ID, Text
from driftfield.api.files import file_response
from driftfield.api.intake import serializers as s
from driftfield.api.intake.mapping_serializers import mapping_of
from driftfield.api.queries import MarketQuery, market_named
from driftfield.api.shared import ProblemDetail
from driftfield.exchange.lists import Column
from driftfield.intake.actions import keep_mapping
from driftfield.intake.batch_coverage import Revision, coverage_of_batch, revisions_of
from driftfield.intake.coverage import coverage_of, niches_within
from driftfield.intake.models import Batch
from driftfield.market.models import Market
from driftfield.work import incoming
from driftfield.work.actions import resume, start, stop
from driftfield.work.models import Job, Kind
from driftfield.work.tasks import problem_file

LATEST = 20  # Jobs and batches that are listed.
SHOWN = 200  # Revised figures that are listed; the file has all.
PIECE = 1 << 20  # Bytes read of a file at once.


def _job(pk: int) -> Job:
    job = Job.objects.filter(pk=min(pk, LARGEST_ID)).first()
    if job is None:
        raise Problem(404, "Unknown work", "There is no such work. Load the page again.")
    return job


def _batch(pk: int) -> Batch:
    batch = Batch.objects.filter(pk=min(pk, LARGEST_ID)).first()
    if batch is None:
        raise Problem(404, "Unknown import", "There is no such import. Load the page again.")
    return batch


def describe_job(job: Job) -> dict[str, Any]:
    """A job as it is answered."""
    folder = Path(job.folder)
    job.incoming = folder.name if job.folder and folder.is_dir() else ""  # type: ignore[attr-defined]
    return s.JobRow(job).data


def _agreed(wanted: dict[str, Any]) -> dict[str, Any]:
    """A mapping that was asked for, kept for the next time files of its layout come."""
    mapping = mapping_of(wanted["mapping"])
    keep_mapping(wanted["layout"], wanted["names"], mapping)
    return mapping.as_dict()


class FilePart(BaseParser):
    """The body as it comes. Pages of other origins cannot send this type without being asked first."""

    media_type = "application/octet-stream"

    def parse(self, stream: Any, media_type: Any = None, parser_context: Any = None) -> Any:
        return iter(lambda: stream.read(PIECE), b"")


class Uploads(APIView):
    """Files are uploaded one by one to a place of their own."""

    @extend_schema(operation_id="open_upload", request=None, responses={201: s.Incoming})
    def post(self, request: Request) -> Response:
        return Response({"incoming": incoming.open_folder()}, status=201)


class UploadedFile(APIView):
    """One file; nothing is read of it yet."""

    parser_classes = (FilePart,)

    @extend_schema(
        operation_id="upload_file",
        request={"application/octet-stream": OpenApiTypes.BINARY},
        responses={201: s.FileRow, 409: ProblemDetail, 415: ProblemDetail},
    )
    def put(self, request: Request, folder: str, name: str) -> Response:
        length = request.META.get("CONTENT_LENGTH") or ""
        size = int(length) if length.isdecimal() else None
        bare = incoming.check_file(name, size)
        # An empty body is no stream.
        pieces = cast(Iterator[bytes], request.data) if size != 0 else iter(())
        return Response(
            {"name": bare, "size": incoming.keep(folder, bare, pieces, size)}, status=201
        )


class Jobs(APIView):
    """Long work: the latest first."""

    @extend_schema(operation_id="jobs", responses={200: s.JobRow(many=True)})
    def get(self, request: Request) -> Response:
        return Response([describe_job(job) for job in Job.objects.all()[:LATEST]])

    @extend_schema(
        operation_id="start_job",
        request=s.JobWanted,
        responses={201: s.JobRow, 400: ProblemDetail, 409: ProblemDetail},
    )
    def post(self, request: Request) -> Response:
        asked = s.JobWanted(data=request.data)
        asked.is_valid(raise_exception=True)
        wanted = asked.validated_data
        folder = incoming.folder_of(wanted["incoming"])
        mappings = {one["layout"]: _agreed(one) for one in wanted["mappings"]}
        kind, name, market = Kind(wanted["kind"]), wanted["name"], wanted["market"]
        job = start(kind, name, folder, mappings=mappings, market=market)
        return Response(describe_job(job), status=201)


class JobView(APIView):
    """One piece of long work, for those who watch it."""

    @extend_schema(operation_id="job", responses={200: s.JobRow, 404: ProblemDetail})
    def get(self, request: Request, pk: int) -> Response:
        return Response(describe_job(_job(pk)))


class StopJob(APIView):
    """Asks work to stop; it ends with nothing changed, or with what was whole before."""

    @extend_schema(
        operation_id="stop_job", request=None, responses={200: s.JobRow, 404: ProblemDetail}
    )
    def post(self, request: Request, pk: int) -> Response:
        return Response(describe_job(stop(_job(pk))))


class ResumeJob(APIView):
    """Does the work again that was stopped or cut off."""

    @extend_schema(
        operation_id="resume_job",
        request=None,
        responses={201: s.JobRow, 404: ProblemDetail, 409: ProblemDetail},
    )
    def post(self, request: Request, pk: int) -> Response:
        return Response(describe_job(resume(_job(pk))), status=201)


class ImportChecked(APIView):
    """Imports the files of a check."""

    @extend_schema(
        operation_id="import_checked",
        request=None,
        responses={201: s.JobRow, 404: ProblemDetail, 409: ProblemDetail},
    )
    def post(self, request: Request, pk: int) -> Response:
        return Response(describe_job(resume(_job(pk), Kind.IMPORT)), status=201)


class ProblemsOfJob(APIView):
    """The problems of refused files as CSV, a line each."""

    @extend_schema(
        operation_id="problems_of_job",
        responses={(200, "text/csv"): OpenApiTypes.BINARY, 404: ProblemDetail},
    )
    def get(self, request: Request, pk: int) -> FileResponse:
        file = problem_file(_job(pk))
        if not file.is_file():
            raise Problem(404, "No problems", "There is no list of problems of this work.")
        return FileResponse(
            file.open("rb"),
            as_attachment=True,
            filename="problems.csv",
            content_type="text/csv; charset=utf-8",
        )


class Batches(APIView):
    """What was imported, the latest first."""

    @extend_schema(operation_id="batches", responses={200: s.BatchRow(many=True)})
    def get(self, request: Request) -> Response:
        found = list(Batch.objects.all()[:LATEST])
        standing = next((one.pk for one in found if one.undone_at is None), None)
        for one in found:
            one.latest = one.pk == standing  # type: ignore[attr-defined]
        return Response(s.BatchRow(found, many=True).data)


class UndoBatch(APIView):
    """Takes the latest import back, as long work."""

    @extend_schema(
        operation_id="undo_batch",
        request=None,
        responses={201: s.JobRow, 404: ProblemDetail, 409: ProblemDetail},
    )
    def post(self, request: Request, pk: int) -> Response:
        return Response(describe_job(start(Kind.UNDO, _batch(pk).source, batch=pk)), status=201)


class BatchCoverage(APIView):
    """What one import brought, table by table and week by week."""

    @extend_schema(
        operation_id="batch_coverage",
        responses={200: s.CoverageRow(many=True), 404: ProblemDetail},
    )
    def get(self, request: Request, pk: int) -> Response:
        return Response(s.CoverageRow(coverage_of_batch(_batch(pk)), many=True).data)


class BatchRevisions(APIView):
    """Known figures that one import made others, the first of them; all of them as a file."""

    @extend_schema(operation_id="batch_revisions", responses={200: s.Revisions, 404: ProblemDetail})
    def get(self, request: Request, pk: int) -> Response:
        shown, many = [], 0
        for many, revision in enumerate(revisions_of(_batch(pk)), start=1):
            if many <= SHOWN:
                shown.append(revision)
        return Response(s.Revisions({"total": many, "rows": shown}).data)


class BatchRevisionsFile(APIView):
    """Known figures that one import made others, as CSV."""

    @extend_schema(
        operation_id="batch_revisions_file",
        responses={(200, "text/csv"): OpenApiTypes.BINARY, 404: ProblemDetail},
    )
    def get(self, request: Request, pk: int) -> HttpResponse:
        columns = [Column(one.name, one.name) for one in fields(Revision)]
        rows = [asdict(revision) for revision in revisions_of(_batch(pk))]
        return file_response("csv", f"revised {pk}", columns, rows)


class CoverageQuery(MarketQuery):
    """A market, or a part of it."""

    category = Text(
        required=False, default="", max_length=200, help_text="Id of a category; with all below it."
    )
    niche = Text(required=False, default="", max_length=500, help_text="Id of a niche.")


class Coverage(APIView):
    """The data coverage of a market, of a category or of one niche."""

    @extend_schema(
        operation_id="coverage",
        parameters=[CoverageQuery],
        responses={200: s.CoverageRow(many=True), 400: ProblemDetail, 404: ProblemDetail},
    )
    def get(self, request: Request) -> Response:
        wanted = CoverageQuery.asked(request)
        market = market_named(wanted["market"])
        latest = Batch.objects.aggregate(made=Max("made_at"), undone=Max("undone_at"))
        return Response(_coverage(market, wanted["niche"], wanted["category"], str(latest)))


@lru_cache(maxsize=8)
def _coverage(market: Market, niche: str, category: str, _as_loaded: str) -> Any:
    """The rows of a coverage; on a market of a hundred thousand niches they take seconds."""
    return s.CoverageRow(coverage_of(niches_within(market, niche, category)), many=True).data
