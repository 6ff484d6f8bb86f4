#include "app/pace/elsewhere_panel.h"

#include "app/look/tokens.h"
#include "app/session/background.h"
#include "core/base/files.h"
#include "core/moves/other_place.h"

#include <QClipboard>
#include <QFileDialog>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QVBoxLayout>

namespace pipit::app
{

ElsewherePanel::ElsewherePanel(Session *session, QWidget *parent) : QWidget(parent), session_(session)
{
    setObjectName("elsewherePanel");
    title_ = new QLabel;
    title_->setFont(titleFont());
    title_->setWordWrap(true);
    words_ = new QLabel;
    words_->setObjectName("elsewhereWords");
    words_->setWordWrap(true);
    words_->setTextInteractionFlags(Qt::TextSelectableByMouse | Qt::TextSelectableByKeyboard);
    change_ = new CodePane("The change to the code");
    copy_ = new QPushButton("Copy the change");
    copy_->setObjectName("copyChange");
    copy_->setProperty("main", true);
    save_ = new QPushButton("Save it…");
    save_->setObjectName("saveChange");
    leave_ = new QPushButton("Leave it");
    leave_->setObjectName("leaveChange");
    auto *buttons = new QHBoxLayout;
    buttons->setContentsMargins(padding, 4, padding, 8);
    buttons->setSpacing(8);
    for (QPushButton *b : {copy_, save_, leave_})
        buttons->addWidget(b);
    buttons->addStretch();
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 14, 0, 0);
    layout->setSpacing(4);
    for (QLabel *l : {title_, words_}) {
        l->setContentsMargins(padding, 0, padding, 0);
        l->setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Maximum);
        layout->addWidget(l);
    }
    layout->addLayout(buttons);
    layout->addWidget(change_, 1000);
    layout->addStretch(1); // below what was said, while there is no change
    connect(copy_, &QPushButton::clicked, this, [this] {
        QGuiApplication::clipboard()->setText(change_->toPlainText());
        Q_EMIT session_->messages.note("The change is in the clipboard. Apply it with git apply in " +
                                       folder_ + '.');
    });
    connect(save_, &QPushButton::clicked, this, &ElsewherePanel::save);
    connect(leave_, &QPushButton::clicked, this, [this] {
        forget();
        Q_EMIT dismissed();
    });
}

ElsewherePanel::~ElsewherePanel()
{
    forget();
}

void ElsewherePanel::forget()
{
    if (cancel_)
        *cancel_ = true;
    cancel_.reset();
}

void ElsewherePanel::plan(const QString &name, const QString &file, int line)
{
    forget();
    title_->setText(QStringLiteral("Run %1 in the background").arg(name));
    words_->setText("Reading the code…");
    change_->setCode({}, {});
    change_->hide();
    copy_->hide();
    save_->hide();
    leave_->setFocus();
    cancel_ = std::make_shared<std::atomic<bool>>(false);
    struct Answer {
        QString folder;
        Result<OtherMove> move;
    };
    inBackground(
        this,
        [file, line, cancel = cancel_] {
            const QString folder = compiledFolderAround(file);
            if (folder.isEmpty())
                return Answer{
                    {},
                    Problem{"Pipit does not know how this code is compiled", file,
                            "Make your build write compile_commands.json (CMake: "
                            "-DCMAKE_EXPORT_COMPILE_COMMANDS=ON) in a folder above the source file"}};
            return Answer{folder,
                          planOtherMove(folder, QStringLiteral("%1:%2").arg(file).arg(line), {}, *cancel)};
        },
        [this, cancel = cancel_](const Answer &answer) {
            if (cancel != cancel_)
                return; // something else was asked by now
            cancel_.reset();
            folder_ = answer.folder;
            take(answer.move);
        });
}

void ElsewherePanel::take(const Result<OtherMove> &move)
{
    if (!move) {
        words_->setText(move.problem().text());
    } else if (!move->refused.isEmpty()) {
        QStringList lines{"Not moved: the behaviour would change."};
        constexpr int most = 12;
        for (const MoveRefusal &r : move->refused.mid(0, most))
            lines << QStringLiteral("%1:%2: %3.").arg(r.file).arg(r.line).arg(r.reason);
        words_->setText(lines.join('\n'));
    } else {
        words_->setText(
            (QStringList{"No file was changed. Copy or save the change, then apply it with git apply in " +
                         folder_ + '.'} +
             move->sentences)
                .join('\n'));
        showChange(move->diff);
        copy_->setFocus();
    }
    Q_EMIT planned();
}

// What comes in by the colour of the background; what goes is the loop's no more.
void ElsewherePanel::showChange(const QString &diff)
{
    QList<CodePane::Band> bands;
    for (const QString &line : diff.split('\n'))
        bands << (line.startsWith("+++") || line.startsWith("---") ? CodePane::Band::None
                  : line.startsWith('+')                           ? CodePane::Band::Background
                  : line.startsWith('-')                           ? CodePane::Band::Loop
                                                                   : CodePane::Band::None);
    change_->setCode(diff, bands);
    change_->show();
    copy_->show();
    save_->show();
}

void ElsewherePanel::save()
{
    const QString file = QFileDialog::getSaveFileName(this, "Save the change", folder_ + "/background.diff");
    if (file.isEmpty())
        return;
    const auto done = writeFile(file, change_->toPlainText().toUtf8());
    if (done)
        Q_EMIT session_->messages.note("Saved as " + file + '.');
    else
        Q_EMIT session_->messages.problem(done.problem().text());
}

} // namespace pipit::app
