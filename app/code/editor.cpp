#include "app/code/editor.h"

#include "app/shell/tokens.h"

#include <Qsci/qscilexercpp.h>

namespace pipit::app
{

namespace
{
constexpr int errorMarker = 1;
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
    setMarginWidth(0, "00000");
    setMarginWidth(1, 4);
    markerDefine(LeftRectangle, errorMarker);
    setAnnotationDisplay(AnnotationIndented);
    takeLook();
    connect(this, &QsciScintilla::textChanged, this, &Editor::typed);
    connect(session, &Session::filesReloaded, this, &Editor::reload);
    connect(session, &Session::projectOpened, this, [this] {
        file_.clear();
        openFile(session_->project().windows.first().file + ".cpp");
    });
}

void Editor::takeLook()
{
    const Tokens &t = Tokens::current();
    QsciLexer *l = lexer();
    l->setDefaultFont(codeFont());
    l->setDefaultPaper(t.surface);
    l->setDefaultColor(t.ink);
    for (int style = 0; style < 128; ++style) {
        l->setFont(codeFont(), style);
        l->setPaper(t.surface, style);
        l->setColor(t.ink, style);
    }
    for (int comment : {QsciLexerCPP::Comment, QsciLexerCPP::CommentLine, QsciLexerCPP::CommentDoc,
                        QsciLexerCPP::CommentLineDoc})
        l->setColor(t.ink2, comment);
    for (int text :
         {QsciLexerCPP::DoubleQuotedString, QsciLexerCPP::SingleQuotedString, QsciLexerCPP::Number})
        l->setColor(t.teal, text);
    QFont bold = codeFont();
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
    setMarginsFont(codeFont());
    setMarkerBackgroundColor(t.vermilion, errorMarker);
    setMatchedBraceBackgroundColor(t.buff);
    setMatchedBraceForegroundColor(t.ink);
}

void Editor::openFile(const QString &file)
{
    if (!session_->hasProject())
        return;
    file_ = file;
    reload();
}

void Editor::reload()
{
    if (file_.isEmpty() || !session_->hasProject())
        return;
    auto t = session_->workspace().files().text(file_);
    if (!t || *t == text())
        return;
    int line = 0, column = 0;
    getCursorPosition(&line, &column);
    loading_ = true;
    setText(*t);
    loading_ = false;
    setCursorPosition(std::min(line, lines() - 1), 0);
}

void Editor::typed()
{
    if (loading_ || file_.isEmpty())
        return;
    session_->workspace().files().setText(file_, text());
    session_->userTextChanged();
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
