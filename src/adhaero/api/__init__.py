"""The web application's API: one router a station, no rule of the job."""
