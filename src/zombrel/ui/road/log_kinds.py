"""Which files a log may be, for whoever asks for one."""

LOGS = (
    "Logs (*.csv *.txt *.tsv *.xlsx *.log *.gpx *.nmea *.wav *.asc *.blf *.candump);;Any file (*)"
)
