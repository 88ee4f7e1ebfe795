"""A market feed: a service that tells what is new of a market, asked over HTTP and written as exchange tables.

``client`` speaks to it and endures its failings, ``pull`` keeps what came on disk until all of it is there.
Which requests and answers there are is in schemas/feed.openapi.json; driftfield.feedsim is such a service.
"""
