"""An object store on loopback that speaks as S3 does: moto's server."""

import logging
import os
from collections.abc import Iterator
from contextlib import contextmanager
from unittest import mock
from uuid import uuid4

import fsspec

from driftfield.exchange.dataset.layout import Store


@contextmanager
def object_store() -> Iterator[str]:
    """A bucket; what is started meanwhile finds it by its surroundings."""
    from moto.server import ThreadedMotoServer

    logging.getLogger("werkzeug").setLevel(logging.ERROR)
    server = ThreadedMotoServer(ip_address="127.0.0.1", port=0, verbose=False)
    server.start()
    # One that was made for another server would be taken again.
    fsspec.get_filesystem_class("s3").clear_instance_cache()
    host, port = server.get_host_and_port()
    surroundings = {
        "AWS_ENDPOINT_URL": f"http://{host}:{port}", "AWS_ACCESS_KEY_ID": "none",
        "AWS_SECRET_ACCESS_KEY": "none", "AWS_DEFAULT_REGION": "us-east-1",
    }  # fmt: skip
    try:
        with mock.patch.dict(os.environ, surroundings):
            bucket = f"quay-{uuid4().hex}"  # All servers of a program have what one has.
            Store(f"s3://{bucket}").fs.mkdir(bucket)
            yield f"s3://{bucket}"
    finally:
        server.stop()
