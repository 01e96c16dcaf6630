#include <Rcpp/Lightest>
#include <algorithm>
#include <cstdint>
#include <cstring>

// Bytes and texts: which letters they hold.

namespace {

// How many bytes the letter at `at` has in UTF-8; 0 where there is no letter: bytes that continue
// one which has not begun, a longer form than is needed, halves of a pair, what is beyond the last.
size_t letter_size(const Rbyte *at, const Rbyte *end) {
  if (*at < 0x80) return 1;
  size_t size = *at >= 0xf0 ? 4 : *at >= 0xe0 ? 3 : 2;
  if (*at < 0xc2 || *at > 0xf4 || static_cast<size_t>(end - at) < size) return 0;
  for (size_t i = 1; i < size; i++)
    if ((at[i] & 0xc0) != 0x80) return 0;
  bool longer = (*at == 0xe0 && at[1] < 0xa0) || (*at == 0xf0 && at[1] < 0x90);
  bool beyond = (*at == 0xed && at[1] > 0x9f) || (*at == 0xf4 && at[1] > 0x8f);
  return longer || beyond ? 0 : size;
}

// The first byte that is above those of ASCII, or the end.
const Rbyte *past_plain(const Rbyte *at, const Rbyte *end) {
  for (uint64_t eight; end - at >= 8; at += 8) {
    std::memcpy(&eight, at, sizeof eight);
    if (eight & 0x8080808080808080) break;
  }
  while (at < end && *at < 0x80) at++;
  return at;
}

}  // namespace

// Whether no byte is above those of ASCII.
//
// [[Rcpp::export]]
bool all_ascii_bytes(Rcpp::RawVector bytes) {
  return past_plain(bytes.begin(), bytes.end()) == bytes.end();
}

// The place, from 1, of the first byte that is no letter in UTF-8; 0 where all are letters.
//
// [[Rcpp::export]]
double first_no_letter(Rcpp::RawVector bytes) {
  const Rbyte *start = bytes.begin(), *end = bytes.end(), *at = start;
  while (at < end) {
    at = past_plain(at, end);
    if (at == end) break;
    size_t size = letter_size(at, end);
    if (!size) return static_cast<double>(at - start) + 1;
    at += size;
  }
  return 0;
}

// Whether a byte is zero, which no text holds.
//
// [[Rcpp::export]]
bool has_zero(Rcpp::RawVector bytes) {
  return std::memchr(bytes.begin(), 0, bytes.size()) != nullptr;
}

// Whether texts hold nothing but the printable letters and blanks of ASCII.
//
// [[Rcpp::export]]
bool all_plain_letters(Rcpp::CharacterVector texts) {
  for (R_xlen_t i = 0; i < texts.size(); i++) {
    SEXP text = STRING_ELT(texts, i);
    if (text == NA_STRING) continue;
    for (const char *at = CHAR(text); *at; at++) {
      bool blank = *at >= '\t' && *at <= '\r';
      if (!blank && (*at < ' ' || *at > '~')) return false;
    }
  }
  return true;
}

namespace {

char small(char letter) {
  return letter >= 'A' && letter <= 'Z' ? static_cast<char>(letter - 'A' + 'a') : letter;
}

bool is_ascii(const char *text) {
  return std::all_of(text, text + std::strlen(text), [](char at) { return (at & 0x80) == 0; });
}

}  // namespace

// Which texts may differ from a text of ASCII by the case of letters alone: those that are equal
// once the letters of ASCII are small, and those with other letters, which others may turn into
// (the sign of Kelvin, the dotted capital I). Not the text itself.
//
// [[Rcpp::export]]
Rcpp::LogicalVector may_differ_by_case(std::string text, Rcpp::CharacterVector texts) {
  Rcpp::LogicalVector may(texts.size());
  for (R_xlen_t i = 0; i < texts.size(); i++) {
    const char *other = CHAR(STRING_ELT(texts, i));
    if (text == other) continue;
    may[i] = !is_ascii(other) || (text.size() == std::strlen(other) &&
                                  std::equal(text.begin(), text.end(), other,
                                             [](char a, char b) { return small(a) == small(b); }));
  }
  return may;
}
