# What the faults written in Python are: a button, a field and a label that says what happened. Each file says what a
# person does (play), which widget is asked about (ask), and what "pipit why" has to say about it (verdict, says).
import sys

from PyQt6.QtWidgets import QApplication, QLabel, QLineEdit, QPushButton, QVBoxLayout, QWidget


class Desk(QWidget):
    def __init__(self, button=QPushButton):
        super().__init__()
        self.setObjectName("ferryDesk")
        self.ticket = QLineEdit(objectName="ticketField")
        self.board = button("Board", objectName="boardButton")
        self.status = QLabel("ready", objectName="statusLabel")
        layout = QVBoxLayout(self)
        for widget in (self.ticket, self.board, self.status):
            layout.addWidget(widget)
        self.resize(320, 240)


def run(make):
    app = QApplication(sys.argv)
    desk = make()
    desk.show()
    sys.exit(app.exec())
