# A window in Python whose loop is kept busy, one way after another. Where it is then stands behind "#:", with the
# way's name; what is told of it must be that function and that line.
import subprocess
import sys
import threading
import time

from PyQt6.QtCore import QObject, QThread, QTimer, pyqtSignal
from PyQt6.QtWidgets import QApplication, QWidget


def spin(seconds):
    until = time.monotonic() + seconds
    while time.monotonic() < until: pass  #: computing spin


class Fare:
    def __init__(self, price):
        self.price = price

    def __lt__(self, other):
        time.sleep(0.02); return self.price < other.price  #: sorting Fare.__lt__


class Worker(QThread):
    def run(self):
        time.sleep(0.3)


class Desk(QWidget):
    asked = pyqtSignal()

    def __init__(self):
        super().__init__()
        self.setObjectName("ferryDesk")
        self.ways = [self.computing, self.sleeping, self.sorting, self.generating, self.asking,
                     self.process, self.thread, self.interpreter]
        self.asked.connect(lambda: time.sleep(0.25))  #: asking Desk.__init__.<locals>.<lambda>
        self.clock = QTimer(self)
        self.clock.setObjectName("clock")
        self.clock.timeout.connect(self.next)
        self.clock.start(250)

    def next(self):
        if not self.ways:
            QApplication.quit()
            return
        self.ways.pop(0)()

    def computing(self):
        spin(0.25)

    def sleeping(self):
        # A comment, so that the lines
        # are further apart than one byte of the table tells.


















        time.sleep(0.25)  #: sleeping Desk.sleeping

    def sorting(self):
        sorted([Fare(n * 7 % 11) for n in range(8)])

    def generating(self):
        def slowly():
            for n in range(25):
                time.sleep(0.01)  #: generating Desk.generating.<locals>.slowly
                yield n

        sum(slowly())

    def asking(self):
        self.asked.emit()

    def process(self):
        subprocess.run(["/bin/sleep", "0.25"])  #: process Desk.process

    def thread(self):
        worker = Worker()
        worker.start()
        worker.wait()  #: thread Desk.thread

    def interpreter(self):
        def hold():
            sum(range(25_000_000))

        holder = threading.Thread(target=hold)
        holder.start()  #: interpreter Desk.interpreter
        holder.join()


app = QApplication(sys.argv)
desk = Desk()
desk.show()
sys.exit(app.exec())
