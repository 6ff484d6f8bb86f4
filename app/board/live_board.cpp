#include "app/board/live_board.h"

#include "app/look/heading.h"
#include "app/look/short_menu.h"
#include "app/session/background.h"
#include "core/base/duration_text.h"
#include "core/base/files.h"
#include "core/why/interactions.h"

#include <QDesktopServices>
#include <QHBoxLayout>
#include <QShortcut>
#include <QTextBlock>
#include <QUrl>
#include <QVBoxLayout>

namespace pipit::app
{

using namespace std::chrono_literals;

namespace
{

QWidget *column(QLabel *title, QWidget *list)
{
    auto *c = new QWidget;
    auto *v = new QVBoxLayout(c);
    v->setContentsMargins(0, 0, 0, 0);
    v->setSpacing(0);
    v->addWidget(title);
    v->addWidget(list, 1);
    return c;
}

QString placeText(const QString &file, int line)
{
    return file.isEmpty() ? QString() : QStringLiteral("%1:%2").arg(file.section('/', -1)).arg(line);
}

QString countText(std::uint64_t calls, std::int64_t worst)
{
    return calls == 0 ? QString() : QStringLiteral("%1 ×  %2").arg(calls).arg(durationText(worst));
}

} // namespace

struct LiveBoardView::Looked {
    LiveBoard board;
    std::optional<QHash<std::uint64_t, PictureView::Picture>> pictures; // none: as before
};

LiveBoardView::LiveBoardView(Session *session, QWidget *parent) : QWidget(parent), session_(session)
{
    code_ = new QPlainTextEdit;
    code_->setReadOnly(true);
    code_->setFont(codeFont());
    code_->setObjectName("liveCode");
    code_->setAccessibleName("The code, read-only");
    code_->setLineWrapMode(QPlainTextEdit::NoWrap);
    code_->setFrameShape(QFrame::NoFrame);
    place_ = heading({});
    elsewhere_ = new QPushButton("Open in the desktop's editor");
    auto *bar = new QWidget;
    auto *barLayout = new QHBoxLayout(bar);
    barLayout->setContentsMargins(0, 0, padding, 0);
    barLayout->addWidget(place_, 1);
    barLayout->addWidget(elsewhere_);
    auto *layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    layout->addWidget(makeColumns(), 3);
    layout->addWidget(hairline(false));
    layout->addWidget(bar);
    layout->addWidget(code_, 2);
    for (QWidget *w : std::initializer_list<QWidget *>{bar, code_})
        w->hide();
    later_.setSingleShot(true);
    later_.setInterval(1s);
    connect(&later_, &QTimer::timeout, this, &LiveBoardView::lookAgain);
    connect(elsewhere_, &QPushButton::clicked, this,
            [this] { QDesktopServices::openUrl(QUrl::fromLocalFile(file_)); });
    connect(&session->shown, &ShownTrace::figuresChanged, this, [this] {
        if (isVisible() && !later_.isActive())
            later_.start();
    });
    connect(&session->shown, &ShownTrace::reset, this, [this] {
        wiring_ = std::make_shared<LiveWiring>();
        picture_->setPictures({});
        looking_ = read_ = false;
        tell({});
        if (isVisible())
            lookAgain();
    });
    connect(&session->shown, &ShownTrace::readToEnd, this, &LiveBoardView::lookAgain);
    tellEmpty();
}

QWidget *LiveBoardView::makeColumns()
{
    objects_ = new RowList("Windows and their widgets", 0, 70);
    objects_->setObjectName("liveObjects");
    sentences_ = new RowList("Connections", 0, 130);
    sentences_->setObjectName("liveSentences");
    handlers_ = new RowList("Handlers by thread", 0, 130);
    handlers_->setObjectName("liveHandlers");
    objectsTitle_ = heading("Windows");
    sentencesTitle_ = heading("Connected");
    filter_ = new QLineEdit;
    filter_->setPlaceholderText("Filter");
    filter_->setAccessibleName("Filter the connections");
    filter_->setClearButtonEnabled(true);
    auto *middle = column(sentencesTitle_, sentences_);
    auto *top = new QHBoxLayout;
    top->setContentsMargins(padding, 6, padding, 2);
    top->addWidget(filter_);
    static_cast<QVBoxLayout *>(middle->layout())->insertLayout(0, top);
    auto *columns = new QWidget;
    auto *h = new QHBoxLayout(columns);
    h->setContentsMargins(0, 0, 0, 0);
    h->setSpacing(0);
    auto *all = new QShortcut(Qt::Key_Escape, objects_);
    all->setContext(Qt::WidgetShortcut);
    connect(all, &QShortcut::activated, this, &LiveBoardView::showAll);
    picture_ = new PictureView;
    auto *left = column(objectsTitle_, objects_);
    static_cast<QVBoxLayout *>(left->layout())->insertWidget(0, picture_);
    connect(picture_, &PictureView::chosen, this, [this](std::uint64_t object) {
        objects_->selectKey(QString::number(object, 16));
        objects_->setFocus();
        picture_->choose(object);
        tellSentences();
    });
    h->addWidget(left, 3);
    h->addWidget(hairline(true));
    h->addWidget(middle, 5);
    h->addWidget(hairline(true));
    h->addWidget(column(heading("Handlers"), handlers_), 3);
    connect(filter_, &QLineEdit::textChanged, this, &LiveBoardView::tellSentences);
    connect(objects_, &RowList::chosen, this, [this](const QString &key, int) {
        picture_->choose(key.toULongLong(nullptr, 16));
        tellSentences();
    });
    connect(objects_, &RowList::activatedRow, this, [this](const QString &, int number) {
        Q_EMIT whyAsked(board_.objects[std::size_t(number)].name);
    });
    objects_->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(objects_, &QWidget::customContextMenuRequested, this,
            [this](const QPoint &at) { showObjectMenu(objects_->viewport()->mapToGlobal(at)); });
    const auto open = [this](const QString &, int number) {
        const WiringRow &w = board_.sentences[std::size_t(number)].wire;
        openPlace(w.file, w.line);
    };
    connect(sentences_, &RowList::chosen, this, open);
    connect(sentences_, &RowList::activatedRow, this, open);
    const auto openHandler = [this](const QString &, int number) {
        const LiveHandler &l = board_.handlers[std::size_t(number)];
        openPlace(l.file, l.line);
    };
    connect(handlers_, &RowList::chosen, this, openHandler);
    connect(handlers_, &RowList::activatedRow, this, openHandler);
    return columns;
}

void LiveBoardView::showEvent(QShowEvent *event)
{
    QWidget::showEvent(event);
    lookAgain();
}

void LiveBoardView::showObjectMenu(const QPoint &global)
{
    const Row *r = objects_->rowModel()->row(objects_->currentIndex());
    if (!r)
        return;
    const QString name = board_.objects[std::size_t(r->number)].name;
    showMenu(this, global,
             {{"Why?", "Return", [this, name] { Q_EMIT whyAsked(name); }},
              {"All connections", {}, [this] { showAll(); }}});
}

void LiveBoardView::showAll()
{
    objects_->selectKey({});
    picture_->choose(0);
    tellSentences();
}

void LiveBoardView::lookAgain()
{
    const TraceModel *trace = session_->shown.trace();
    if (!trace || !isVisible())
        return;
    if (std::exchange(looking_, true)) {
        again_ = true;
        return;
    }
    inBackground(
        this,
        [trace, handlers = session_->shown.handlers(), owner = session_->shown.owner(), wiring = wiring_,
         run = session_->shown.liveRun(), recording = session_->shown.recording(), first = !read_] {
            return std::pair(wiring,
                             look(*trace, *handlers, *wiring, run.get(), recording.get(), first || run));
        },
        [this](std::pair<std::shared_ptr<LiveWiring>, Looked> found) {
            if (found.first != wiring_)
                return; // of another trace
            looking_ = false;
            read_ = true;
            tell(std::move(found.second));
            if (std::exchange(again_, false))
                later_.start();
        });
}

// As large as it is ever shown; made smaller here, off the loop.
static PictureView::Picture shrunk(const QImage &image, double ratio)
{
    constexpr int widest = 800;
    if (image.width() <= widest)
        return {image.copy(), ratio};
    const QImage small = image.scaledToWidth(widest, Qt::SmoothTransformation);
    return {small, ratio * small.width() / image.width()};
}

// Of a program that runs, what its windows show now; of a recording, what it kept.
LiveBoardView::Looked LiveBoardView::look(const TraceModel &trace, Handlers &handlers, LiveWiring &wiring,
                                          LiveRun *run, const Recording *recording, bool withPictures)
{
    Looked looked{wiring.read(trace, handlers), {}};
    if (!withPictures)
        return looked;
    if (run && run->program().running()) {
        const auto taken = run->pictures();
        if (!taken) // its loop is busy
            return looked;
        looked.pictures.emplace();
        for (const WindowPicture &p : *taken) {
            const QImage image(reinterpret_cast<const uchar *>(p.pixels.constData()), p.width, p.height,
                               QImage::Format_ARGB32);
            looked.pictures->insert(p.address, shrunk(image, p.ratio));
        }
    } else if (recording) {
        looked.pictures.emplace();
        for (const QString &name : recording->files->names())
            if (name.startsWith("pipit/pictures/") && name.endsWith(".png"))
                if (const auto bytes = recording->files->read(name))
                    if (const QImage image = QImage::fromData(*bytes, "PNG"); !image.isNull())
                        looked.pictures->insert(
                            name.section('/', -1).section('.', 0, 0).toULongLong(nullptr, 16),
                            shrunk(image, 1));
    }
    return looked;
}

void LiveBoardView::tell(Looked looked)
{
    board_ = std::move(looked.board);
    picture_->setObjects(&board_.objects);
    if (looked.pictures)
        picture_->setPictures(std::move(*looked.pictures));
    tellObjects();
    tellSentences();
    tellHandlers();
    tellEmpty();
    Q_EMIT told();
}

QString LiveBoardView::emptyText() const
{
    return !session_->shown.trace()
               ? "Start a program, or open a project or a recording, to see its connections here."
           : !read_       ? QString()
           : board_.known ? "The program made no connections."
                          : "This recording has no objects and connections. Record the program again.";
}

void LiveBoardView::tellEmpty()
{
    const bool any = session_->shown.trace();
    if (objects_->currentKey().isEmpty())
        sentences_->setEmptyText(emptyText());
    objects_->setEmptyText(any && read_ ? QString("No window was recorded.") : QString());
    handlers_->setEmptyText(any && read_ ? QString("No handler has run yet.") : QString());
}

void LiveBoardView::tellObjects()
{
    std::vector<Row> rows;
    for (std::size_t i = 0; i < board_.objects.size(); ++i) {
        const LiveObject &o = board_.objects[i];
        Row r;
        r.text = o.words;
        r.depth = o.depth;
        r.faint = !o.visible;
        r.tail = !o.visible ? QString("hidden") : !o.enabled ? QString("disabled") : QString();
        if (o.silent) {
            r.tail = "no connection";
            r.mark = Tokens::current().ink2;
            r.shape = Mark::Finding;
        }
        r.key = QString::number(o.address, 16);
        r.number = int(i);
        rows.push_back(std::move(r));
    }
    objectsTitle_->setText(board_.more ? QStringLiteral("Windows (%1 more objects)").arg(board_.more)
                                       : "Windows");
    objects_->rowModel()->setRows(std::move(rows));
}

void LiveBoardView::tellSentences()
{
    const Tokens &t = Tokens::current();
    const QString of = objects_->currentKey(), filter = filter_->text();
    std::vector<Row> rows;
    for (std::size_t i = 0; i < board_.sentences.size(); ++i) {
        const LiveSentence &s = board_.sentences[i];
        const WiringRow &w = s.wire;
        if (!of.isEmpty() && QString::number(w.sender, 16) != of)
            continue;
        const QString signal = w.signal.section('(', 0, 0), to = w.handler.isEmpty() ? w.receiver : w.handler;
        Row r;
        r.text = QStringLiteral("%1 · %2 calls %3")
                     .arg(w.source.isEmpty() ? "?" : w.source, signal.isEmpty() ? "?" : signal,
                          to.isEmpty() ? "?" : to);
        if (w.type == "queued" || w.type == "blocking" || w.type == "direct")
            r.text += ", " + w.type;
        if (w.failed)
            r.text += ", but the connect failed" + (w.reason.isEmpty() ? QString() : ": " + w.reason);
        r.broken = w.failed;
        r.faint = w.gone || s.calls == 0;
        r.tail = w.gone    ? QString("no more")
                 : s.calls ? countText(s.calls, s.worst)
                           : placeText(w.file, w.line);
        r.mark = w.failed ? t.vermilion : t.ink2;
        r.shape = w.failed ? Mark::Finding : Mark::Signal;
        r.key = QString::number(i);
        r.number = int(i);
        if (filter.isEmpty() || r.text.contains(filter, Qt::CaseInsensitive))
            rows.push_back(std::move(r));
    }
    if (read_ && session_->shown.trace())
        sentences_->setEmptyText(
            of.isEmpty() ? emptyText()
                         : "The program has no connection for this object. Escape shows all connections.");
    sentencesTitle_->setText(of.isEmpty() ? QStringLiteral("Connected")
                                          : QStringLiteral("Connections of the selection"));
    sentences_->rowModel()->setRows(std::move(rows));
}

void LiveBoardView::tellHandlers()
{
    const Tokens &t = Tokens::current();
    std::vector<Row> rows;
    const auto band = [&](const QString &title, Mark mark, const QColor &colour, auto &&is) {
        bool any = false;
        for (std::size_t i = 0; i < board_.handlers.size(); ++i) {
            const LiveHandler &h = board_.handlers[i];
            if (!is(h))
                continue;
            if (!std::exchange(any, true)) {
                Row head;
                head.text = title;
                head.heading = true;
                rows.push_back(std::move(head));
            }
            Row r;
            r.text = h.name;
            r.tail = countText(h.calls, h.worst);
            r.broken = h.worst >= std::chrono::nanoseconds(stallBudget).count() && mark == Mark::Loop;
            r.mark = colour;
            r.shape = mark;
            r.key = title + QString::number(i);
            r.number = int(i);
            rows.push_back(std::move(r));
        }
    };
    band("on the loop", Mark::Loop, t.slate, [](const LiveHandler &h) { return h.onLoop && !h.onTimer; });
    band("on a timer", Mark::Timer, t.ochre, [](const LiveHandler &h) { return h.onTimer; });
    band("in the background", Mark::Background, t.teal, [](const LiveHandler &h) { return h.inBackground; });
    handlers_->rowModel()->setRows(std::move(rows));
}

// Of its objects the innermost that is told: an input goes to a part of it sometimes.
void LiveBoardView::showLast()
{
    const TraceModel *trace = session_->shown.trace();
    if (!trace)
        return;
    inBackground(
        this,
        [trace, owner = session_->shown.owner()] {
            const auto all = Interactions().more(*trace);
            return all.empty() ? QString() : all.back().widget;
        },
        [this](const QString &widget) {
            const auto is = [&](const LiveObject &o) { return o.name == widget && o.visible; };
            const auto it = std::find_if(board_.objects.begin(), board_.objects.end(), is);
            if (it == board_.objects.end()) {
                Q_EMIT session_->messages.note(widget.isEmpty()
                                                   ? QString("The program has received no input yet.")
                                                   : widget + " is not shown here.");
                return;
            }
            objects_->selectKey(QString::number(it->address, 16));
            objects_->setFocus();
            picture_->choose(it->address);
            tellSentences();
        });
}

// Where the source is at hand; read by a worker.
void LiveBoardView::openPlace(const QString &file, int line)
{
    const int mine = ++asked_;
    code_->parentWidget()->updateGeometry();
    place_->parentWidget()->show();
    file_ = file;
    elsewhere_->setEnabled(!file.isEmpty());
    if (file.isEmpty()) {
        place_->setText("Its file and line are unknown, because the program has no debug information.");
        code_->hide();
        return;
    }
    place_->setText(QStringLiteral("%1:%2").arg(file).arg(line));
    // What the recording carries along is what ran; the file on this machine may be another.
    if (const auto recording = session_->shown.recording())
        if (const auto piece = recording->sources.around(file, line)) {
            place_->setText(QStringLiteral("%1:%2, lines %3 to %4 from the packed recording")
                                .arg(file)
                                .arg(line)
                                .arg(piece->first)
                                .arg(piece->first + int(piece->lines.size()) - 1));
            showCode(piece->lines.join('\n'), line - piece->first);
            return;
        }
    inBackground(
        this, [file] { return readFile(file); },
        [this, mine, line](const Result<QByteArray> &text) {
            if (mine != asked_)
                return;
            code_->setVisible(bool(text));
            if (text)
                showCode(QString::fromUtf8(*text), line - 1);
            else
                place_->setText(text.problem().text());
        });
}

void LiveBoardView::showCode(const QString &text, int line)
{
    code_->show();
    code_->setPlainText(text);
    QTextCursor cursor(code_->document()->findBlockByNumber(std::max(0, line)));
    cursor.movePosition(QTextCursor::EndOfBlock, QTextCursor::KeepAnchor);
    code_->setTextCursor(cursor);
    code_->centerCursor();
}

} // namespace pipit::app
