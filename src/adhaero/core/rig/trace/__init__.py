"""Reading a load trace: rests, spikes, drops, the peak, the break, and what looks wrong. Never drops a sample.

The definitions stand in docs/method, “How a trace is read”. `reading.read_trace` reads one pull; `cutting` cuts a log
into pulls and says when a live one is over.
"""
