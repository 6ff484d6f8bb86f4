# A timer that nobody started.
#
# play    boardButton: click
# ask     gateTimer
# verdict never started
# says    was never started
import desk
from PyQt6.QtCore import QTimer


def make():
    d = desk.Desk()
    d.gate = QTimer(d, objectName="gateTimer", interval=50)
    d.gate.timeout.connect(lambda: d.status.setText("open"))
    return d


desk.run(make)
