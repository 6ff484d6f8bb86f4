#include "app/code/editor.h"

#include "app/look/tokens.h"
#include "app/session/background.h"
#include "core/build/word_meanings.h"
#include "core/catalog/catalog.h"
#include "core/userfiles/cpp_scan.h"

#include <Qsci/qscilexercpp.h>
#include <Qsci/qscistyle.h>

#include <QRegularExpression>
#include <QWheelEvent>

namespace pipit::app
{

namespace
{
constexpr int errorMarker = 1, callsMargin = 2, memberList = 1;
} // namespace

Editor::Editor(Session *session, QWidget *parent) : QsciScintilla(parent), session_(session)
{
    setAccessibleName("Code");
    setUtf8(true);
    setFrameShape(QFrame::NoFrame);
    setLexer(new QsciLexerCPP(this));
    setIndentationsUseTabs(false);
    setTabWidth(4);
    setAutoIndent(true);
    setBraceMatching(SloppyBraceMatch);
    setMarginType(0, NumberMargin);
    setMarginWidth(1, 4);
    setMarginType(callsMargin, TextMarginRightJustified);
    setMarginWidth(callsMargin, 0);
    markerDefine(LeftRectangle, errorMarker);
    setAnnotationDisplay(AnnotationIndented);
    takeLook();
    connect(this, &QsciScintilla::textChanged, this, &Editor::typed);
    connect(&session->document, &Document::filesReloaded, this, &Editor::reload);
    completeSoon_.setSingleShot(true);
    completeSoon_.setInterval(std::chrono::milliseconds(120));
    checkSoon_.setSingleShot(true);
    checkSoon_.setInterval(std::chrono::milliseconds(700));
    connect(&completeSoon_, &QTimer::timeout, this, &Editor::complete);
    connect(&checkSoon_, &QTimer::timeout, this, &Editor::check);
    connect(&session->shown, &ShownTrace::figuresChanged, this, &Editor::showCalls);
    connect(&session->shown, &ShownTrace::reset, this, &Editor::showCalls);
    connect(this, &QsciScintilla::userListActivated, this, [this](int, const QString &word) {
        int line = 0, column = 0;
        getCursorPosition(&line, &column);
        static const QRegularExpression tail("\\w*$");
        const auto m = tail.match(text(line).left(column));
        setSelection(line, int(m.capturedStart()), line, column);
        replaceSelectedText(word);
    });
    connect(&session->document, &Document::opened, this, [this] {
        file_.clear();
        openFile(session_->document.project().windows.first().file + ".cpp");
    });
}

void Editor::takeLook()
{
    const Tokens &t = Tokens::current();
    QsciLexer *l = lexer();
    const QFont code = inPoints(codeFont(), this);
    l->setDefaultFont(code);
    l->setDefaultPaper(t.surface);
    l->setDefaultColor(t.ink);
    for (int style = 0; style < 128; ++style) {
        l->setFont(code, style);
        l->setPaper(t.surface, style);
        l->setColor(t.ink, style);
    }
    for (int comment : {QsciLexerCPP::Comment, QsciLexerCPP::CommentLine, QsciLexerCPP::CommentDoc,
                        QsciLexerCPP::CommentLineDoc})
        l->setColor(t.ink2, comment);
    for (int text :
         {QsciLexerCPP::DoubleQuotedString, QsciLexerCPP::SingleQuotedString, QsciLexerCPP::Number})
        l->setColor(t.teal, text);
    QFont bold = code;
    bold.setBold(true);
    l->setFont(bold, QsciLexerCPP::Keyword);
    l->setColor(t.slate, QsciLexerCPP::PreProcessor);
    setCaretForegroundColor(t.ink);
    setCaretLineVisible(true);
    setCaretLineBackgroundColor(t.raised);
    setSelectionBackgroundColor(t.buff);
    setSelectionForegroundColor(t.ink);
    setMarginsBackgroundColor(t.surface);
    setMarginsForegroundColor(t.ink2);
    setMarginsFont(code);
    fitMargins();
    setMarkerBackgroundColor(t.vermilion, errorMarker);
    setMatchedBraceBackgroundColor(t.buff);
    setMatchedBraceForegroundColor(t.ink);
}

void Editor::fitMargins()
{
    setMarginWidth(0, "00000");
}

// Another screen, another number of points to a pixel.
bool Editor::event(QEvent *e)
{
    if (e->type() == QEvent::Show || e->type() == QEvent::ScreenChangeInternal)
        takeLook();
    return QsciScintilla::event(e);
}

void Editor::zoom(int step)
{
    zoomTo(step == 0 ? 0 : std::clamp(int(SendScintilla(SCI_GETZOOM)) + step, -6, 20));
    fitMargins();
    Q_EMIT zoomed(int(SendScintilla(SCI_GETZOOM)));
}

// The wheel by Ctrl alone: else it would zoom past what can be read, and nobody would be told.
void Editor::showEvent(QShowEvent *e)
{
    QsciScintilla::showEvent(e);
    showCalls();
}

void Editor::wheelEvent(QWheelEvent *e)
{
    if (!(e->modifiers() & Qt::ControlModifier)) {
        QsciScintilla::wheelEvent(e);
        return;
    }
    turned_ += e->angleDelta().y();
    for (; std::abs(turned_) >= 120; turned_ -= turned_ > 0 ? 120 : -120)
        zoom(turned_ > 0 ? 1 : -1);
    e->accept();
}

void Editor::openFile(const QString &file)
{
    if (!session_->document.isOpen())
        return;
    file_ = file;
    setReadOnly(file.startsWith("generated/")); // read, not written
    reload();
}

void Editor::reload()
{
    if (file_.isEmpty() || !session_->document.isOpen())
        return;
    auto t = session_->document.workspace().files().text(file_);
    if (!t || *t == text())
        return;
    int line = 0, column = 0;
    getCursorPosition(&line, &column);
    loading_ = true;
    const bool fixed = isReadOnly();
    setReadOnly(false);
    setText(*t);
    setReadOnly(fixed);
    loading_ = false;
    setCursorPosition(std::min(line, lines() - 1), 0);
}

void Editor::typed()
{
    if (loading_ || file_.isEmpty())
        return;
    session_->document.workspace().files().setText(file_, text());
    session_->document.userTextChanged();
    if (hasFocus())
        completeSoon_.start();
    checkSoon_.start();
}

QStringList Editor::completionsAt(int line, int column) const
{
    const QString before = text(line).left(column);
    static const QRegularExpression member("([A-Za-z_]\\w*)\\s*(?:->|\\.)\\s*(\\w*)$"),
        word("([A-Za-z_]\\w{2,})$");
    QStringList words;
    if (!session_->document.isOpen())
        return words;
    const Catalog &catalog = Catalog::get();
    if (const auto m = member.match(before); m.hasMatch()) {
        const QString cls = session_->document.project().classOf(m.captured(1));
        for (const SignalEntry &s : catalog.slotsOf(cls))
            words << s.name();
        for (const SignalEntry &s : catalog.signalsOf(cls))
            words << s.name();
        for (const PropertyEntry &p : catalog.propertiesOf(cls))
            if (p.owner != "layout" && p.owner != "wiring")
                words << p.name << "set" + p.name.left(1).toUpper() + p.name.mid(1);
        words =
            words.filter(QRegularExpression('^' + m.captured(2), QRegularExpression::CaseInsensitiveOption));
    } else if (const auto w = word.match(before); w.hasMatch()) {
        words = session_->document.project().objectNames();
        for (const Handler &h : session_->document.project().handlers)
            words += h.functionNames();
        words = words.filter(QRegularExpression('^' + w.captured(1)));
        words.removeAll(w.captured(1));
    }
    words.removeDuplicates();
    words.sort();
    return words;
}

// Nobody waits for what is being read.
Editor::~Editor()
{
    *cancelWords_ = true;
    *cancelCheck_ = true;
}

void Editor::complete()
{
    int line = 0, column = 0;
    getCursorPosition(&line, &column);
    offer(completionsAt(line, column) + knownWords());
    askForWords();
}

void Editor::offer(const QStringList &found)
{
    constexpr int most = 200;
    QStringList words = found.mid(0, most);
    words.removeDuplicates();
    words.sort(); // the list is searched by what is typed
    if (words.isEmpty() || !hasFocus())
        cancelList();
    else
        showUserList(memberList, words);
}

qsizetype Editor::wordBegin() const
{
    int line = 0, column = 0;
    getCursorPosition(&line, &column);
    const QString before = text(line).left(column);
    static const QRegularExpression member("(?:->|\\.|::)\\s*(\\w*)$"),
        word("(?:^|[^\\w.])([A-Za-z_]\\w{2,})$");
    auto m = member.match(before);
    if (!m.hasMatch())
        m = word.match(before);
    if (!m.hasMatch() || before.trimmed().startsWith("//"))
        return -1;
    qsizetype at = m.capturedStart(1);
    for (int i = 0; i < line; ++i)
        at += text(i).size();
    return at;
}

QStringList Editor::knownWords() const
{
    const qsizetype begin = wordBegin();
    if (begin < 0 || offered_.before.size() != begin || !text().startsWith(offered_.before))
        return {};
    int line = 0, column = 0;
    getCursorPosition(&line, &column);
    static const QRegularExpression last("\\w*$");
    const QString typed = last.match(text(line).left(column)).captured();
    QStringList words;
    for (const QString &w : offered_.words)
        if (w.startsWith(typed, Qt::CaseInsensitive) && w != typed)
            words << w;
    return words;
}

// Once for each word that is begun: what is typed on only chooses among its answer.
void Editor::askForWords()
{
    const qsizetype begin = wordBegin();
    if (begin < 0 || !session_->document.isOpen() || isReadOnly() || !canAskReader())
        return;
    const QString before = text().left(begin);
    if (offered_.asked && offered_.before == before)
        return;
    offered_ = {before, {}, true};
    *cancelWords_ = true;
    cancelWords_ = std::make_shared<std::atomic<bool>>(false);
    inQuiet(
        this,
        [place = session_->document.workspace().place(), project = session_->document.project(),
         files = session_->document.workspace().files(), file = file_, begin,
         cancel = cancelWords_]() mutable {
            return completionsByReader(place, project, files, file, begin, *cancel);
        },
        [this, before, cancel = cancelWords_](const Result<QStringList> &words) {
            if (*cancel || offered_.before != before || !words)
                return; // another word is typed by now
            offered_.words = *words;
            int line = 0, column = 0;
            getCursorPosition(&line, &column);
            const QStringList known = knownWords();
            if (!known.isEmpty() && hasFocus())
                offer(completionsAt(line, column) + known);
            Q_EMIT wordsKnown();
        });
}

// What the compiler says of the text as it is typed, on a worker.
void Editor::check()
{
    if (file_.isEmpty() || !session_->document.isOpen() || session_->runs.state() == RunState::Building)
        return;
    const int mine = ++checks_;
    *cancelCheck_ = true;
    cancelCheck_ = std::make_shared<std::atomic<bool>>(false);
    checking_ = true;
    inBackground(
        this,
        [place = session_->document.workspace().place(), project = session_->document.project(),
         files = session_->document.workspace().files(), file = file_,
         cancel = cancelCheck_]() mutable { return checkText(place, project, files, file, *cancel); },
        [this, mine](const Result<QList<BuildMessage>> &said) {
            if (mine != checks_)
                return;
            checking_ = false;
            if (said)
                showMessages(*said);
            Q_EMIT checked();
        });
}

void Editor::findText(const QString &wanted, bool next)
{
    int line = 0, column = 0, endLine = 0, endColumn = 0;
    getSelection(&line, &column, &endLine, &endColumn);
    if (line < 0)
        getCursorPosition(&line, &column);
    else if (next)
        line = endLine, column = endColumn;
    findFirst(wanted, false, false, false, true, true, line, column);
}

QString Editor::handlerAtCursor() const
{
    if (!session_->document.isOpen())
        return {};
    int line = 0, column = 0;
    getCursorPosition(&line, &column);
    const QString whole = text();
    for (const Definition &d : definitionsIn(whole))
        if (d.line <= line + 1 && line + 1 <= pipit::lineAt(whole, d.bodyClose))
            for (const Handler &h : session_->document.project().handlers)
                if (h.functionNames().contains(d.name))
                    return h.name;
    return {};
}

// "3 · 702 ms" beside each function that was called in the run that is shown.
void Editor::showCalls()
{
    if (!isVisible()) // told when it is shown
        return;
    clearMarginText();
    const auto &figures = session_->shown.figures().handlers;
    setMarginWidth(callsMargin,
                   figures.isEmpty() ? 0 : QFontMetrics(smallFont()).horizontalAdvance("99999 · 9.99 ms "));
    if (figures.isEmpty() || file_.isEmpty())
        return;
    const Tokens &t = Tokens::current();
    const QsciStyle quiet(-1, "calls", t.ink2, t.surface, inPoints(smallFont(), this)),
        slow(-1, "slow calls", t.vermilion, t.surface, inPoints(smallFont(), this));
    for (const Definition &d : definitionsIn(text()))
        if (const auto it = figures.constFind(d.name); it != figures.constEnd() && it->count)
            setMarginText(d.line - 1, QStringLiteral("%1 · %2 ").arg(it->count).arg(durationText(it->worst)),
                          overBudget(it->worstOnLoop) ? slow : quiet);
}

void Editor::openAt(const QString &file, int line, int column)
{
    if (file != file_)
        openFile(file);
    else
        reload();
    const int at = std::clamp(line - 1, 0, std::max(0, lines() - 1));
    setCursorPosition(at, std::max(0, column - 1));
    ensureLineVisible(at);
    setFirstVisibleLine(std::max(0, at - 2));
}

void Editor::showMessages(const QList<BuildMessage> &messages)
{
    markerDeleteAll(errorMarker);
    clearAnnotations();
    QMap<int, QStringList> byLine;
    for (const BuildMessage &m : messages)
        if (m.file == file_ && m.line > 0 && m.line <= lines())
            byLine[m.line - 1] << m.text;
    for (auto it = byLine.constBegin(); it != byLine.constEnd(); ++it) {
        markerAdd(it.key(), errorMarker);
        annotate(it.key(), it->join('\n'), 0);
    }
}

} // namespace pipit::app
