# frozen_string_literal: true

RSpec.describe Yenvo::Core::Papers do
  let(:kind) { a_schema.kind("deal") }
  let(:today) { Date.new(2026, 11, 24) }
  let(:tickets) do
    [["Hull | sanded", 120], ["Rudder <b>bold</b>", 80.5]].map do |title, cost|
      {"id" => cost.to_i, "title" => title, "cost" => cost, "boat" => 7, "kind" => "ticket"}
    end
  end
  let(:seen) do
    facts(
      record_id: 7,
      after: {"id" => 7, "value" => 4350, "boat_owner" => 3, "notes" => "First line\n# no heading\n| no | row"},
      linked: {3 => {"id" => 3, "title" => "Aldo *Ferrant*", "kind" => "contact"}},
      related: {[7, "ticket.boat"] => tickets, [7, "tasks"] => []}
    )
  end

  def bound(source, form = described_class::Markdown) = form.bind(source, kind, a_schema)
  def wrong(source, form = described_class::Markdown) = bound(source, form)[1]
  def filled(source) = bound(source)[0].fill(seen, rule_name: "Quote", today:)

  def printed(source, **letterhead)
    head = described_class::Letterhead.new(name: "Saltmarsh Yard", **letterhead)
    described_class::Markdown.print(filled(source), letterhead: head, page: "a4", title: "Quote", at: Builders::NOON)
  end

  describe "one written in Markdown" do
    it "is given out as PDF, with letterhead, table, loop, other alphabets and numbers of pages" do
      pdf = printed(<<~MARKDOWN, lines: ["Quay 4", "8000 Faro"], logo: File.binread("spec/support/logo.png"))
        # Quote for {{ record.boat_owner }}

        Привет, **{{ record.title }}**, Ελλάδα

        | Piece | Costs |
        |---|---:|
        {% for piece in record.ticket.boat %}| {{ piece.title }} | {{ piece.cost }} |
        {% endfor %}
        1. *paid* at once
        2. never ~~late~~ `code`

        {% for i in record.tasks %}{{ i.title }}{% endfor %}Sum: {{ record.value }}
      MARKDOWN
      expect(words_of_pdf(pdf)).to include(
        "SaltmarshYardQuay48000Faro", "QuoteforAldo*Ferrant*", "Привет,QuietHour,Ελλάδα", "PieceCosts",
        "Hull|sanded€120", "Rudder<b>bold</b>€80.50", "1.paidatonce2.neverlatecode", "Sum:€4,350", "1/1"
      )
    end

    it "has the letters of Chinese, Japanese and Korean, and breaks lines between them" do
      text = printed("東京のはし、漏水的船，한국의 배: #{"漏水" * 60}")
      expect(words_of_pdf(text)).to include("東京のはし、漏水的船，한국의배:", "漏水" * 60)
    end

    it "goes over as many pages as it needs" do
      pdf = printed("{{ record.title }} says that much. " * 400)
      expect(PDF::Reader.new(StringIO.new(pdf)).page_count).to be > 2
      expect(words_of_pdf(pdf)).to match(%r{1/(\d)\D.*\1/\1})
    end

    it "takes what stands in a blank as words alone, line by line" do
      text = words_of_pdf(printed("Says: {{ record.notes }}"))
      expect(text).to include("Firstline#noheading|no|row")
    end

    it "is the same bytes for the same record" do
      expect(Array.new(2) { printed("# {{ record.title }}") }.uniq.size).to eq(1)
    end

    it "names with its line what it does not take" do
      expect(wrong("Dear\n{{ record.titel }}\n")).to match([/\Ain line 2: record.titel must name .*nearest is "title"/])
      expect(wrong("a\n\n<script>alert(1)</script>")).to eq(["in line 3: HTML is not taken; write it in Markdown"])
      expect(wrong("a <b>b</b>").uniq).to eq(["in line 1: HTML is not taken; write it in Markdown"])
      expect(wrong("![x](https://elsewhere.example/x.png)"))
        .to eq(["in line 1: pictures are not taken; the logo stands in the letterhead"])
      expect(wrong("{% for x in record.boats %}{% endfor %}"))
        .to match([/\Ain line 1: a loop goes over records that lead to a deal \(record.tasks, record.ticket.boat/])
      expect(wrong("a\n{% for x in record.ticket.boat %}{{ x.boat }} {{ x }}{% endfor %}"))
        .to match([/\Ain line 2: x.boat must be an own field of a ticket that is no link/, /x must say which field/])
      expect(wrong("{% for x in record.ticket.boat %}")).to match([/\Ain line 1: a blank is not whole: .*never closed/])
      expect(wrong(" ")).to eq(["It has no words yet."])
      expect(wrong("x" * 20_001)).to eq(["It has more than 20,000 characters."])
      expect(wrong("> " * 100 + "x")).to match([/stand too deep/])
      expect(wrong("|#{"a|" * 13}\n|#{"-|" * 13}")).to eq(["in line 1: a table has at most 12 columns"])
    end

    it "cannot be filled in where a blank makes no sense, and says where" do
      expect { filled("a\nb {{ record.notes | date: '%d' }}") }
        .to raise_error(Yenvo::Core::Error, /\Ain line 2: date needs a date/)
      expect { filled("{% for x in record.ticket.boat %}#{"{{ record.notes }}" * 900}{% endfor %}") }
        .to raise_error(Yenvo::Core::Error, /grows beyond 60,000 characters/)
    end

    it "sets no link that is no web address" do
      expect(printed("[a](javascript:alert(1)) [b](https://yard.example/x)").scan(%r{/URI \((.*?)\)}))
        .to eq([["https://yard.example/x"]])
    end
  end

  describe "a logo" do
    it "is a whole picture of some size" do
      problem = described_class::Letterhead.method(:logo_problem)
      logo = File.binread("spec/support/logo.png")
      expect(problem.call(logo)).to be_nil
      expect(problem.call("GIF89a")).to match(/PNG or JPEG/)
      expect(problem.call(logo[0, 20])).to match(/PNG or JPEG picture that is whole/)
      expect(problem.call("x" * 600_000)).to match(/at most 500 kB/)
      expect(problem.call(logo.dup.tap { |bytes| bytes[16, 4] = [90_000].pack("N") })).to match(/at most 300,000 dots/)
      expect(problem.call(logo.dup.tap { |bytes| bytes[28] = "\1" })).to match(/not interlaced/)
    end
  end

  {
    described_class::Docx => ["a_docx", "word/document.xml", "<w:p><w:r><w:t>%s</w:t></w:r></w:p>"],
    described_class::Odt => ["an_odt", "content.xml", "<text:p>%s</text:p>"]
  }.each do |form, (make, part, paragraph)|
    describe "one uploaded as #{make.delete_prefix("an_").delete_prefix("a_")}" do
      define_method(:document) do |*paragraphs, **more|
        public_send(make, *paragraphs.map { |one| paragraph % one }, **more)
      end

      def words(form, bytes)
        paper, why = bound(bytes, form)
        expect(why).to be_nil
        filled = paper.fill(seen, rule_name: "Quote", today:)
        printed = paper.print(filled, at: Builders::NOON)
        expect(bound(printed, form)[1]).to be_nil
        paper.words(filled)
      end

      it "is given out as it came, with its blanks filled" do
        bytes = document(
          "Dear {{ record.boat_owner }},", "{% for x in record.ticket.boat %}", "{{ x.title }}: {{ x.cost }}",
          "{% endfor %}", "{% if record.value > 1 %}Dear{% else %}Cheap{% endif %} &amp; {just} braces",
          "other.bin": "kept"
        )
        expect(words(form, bytes)).to eq(
          ["Dear Aldo *Ferrant*,", "Hull | sanded: €120", "Rudder <b>bold</b>: €80.50", "Dear & {just} braces"]
        )
        paper = bound(bytes, form)[0]
        parts = unpack(paper.print(paper.fill(seen, rule_name: "r", today:), at: Builders::NOON))
        expect(parts.slice("other.bin", "mimetype").values.compact.first).to match(/kept|opendocument/)
        expect(parts[part]).to start_with("<?xml").and(include("Aldo *Ferrant*"))
      end

      it "shows a paragraph that begins and ends with a choice" do
        choice = "{% if record.value > 1 %}Dear{% else %}Cheap{% endif %}"
        expect(words(form, document("a", choice, "{% if true %}{% endif %}"))).to eq(%w[a Dear])
      end

      it "keeps line breaks, and nothing of XML, in what is filled in" do
        seen.after["notes"] = "a <w:p>\u0001\nb & c"
        expect(words(form, document("{{ record.notes }}"))).to eq(["a <w:p>b & c"])
      end

      it "names the paragraph of what it does not take" do
        expect(wrong(document("a", "b {{ record.titel }}"), form))
          .to match([/\Ain paragraph 2: record.titel must name/])
        expect(wrong(document("a", "b {% if record.title %} c", "{% endif %}"), form))
          .to include(/\Ain paragraph 2: what begins with \{% does not end there/)
        expect(wrong(document("{% for x in record.ticket.boat %}", "x"), form))
          .to match([/ends elsewhere than it begins/])
        expect(wrong(document("{{ record.title"), form)).to be_nil
        expect(wrong(document("a", "b {{ record.title | nope }}"), form)).to match([/there is no "nope"/])
      end

      it "cannot be filled in where a blank makes no sense, and says where" do
        paper = bound(document("a", "{{ record.notes | date: '%d' }}"), form)[0]
        expect { paper.fill(seen, rule_name: "r", today:) }
          .to raise_error(Yenvo::Core::Error, /\Ain paragraph 2: date needs a date/)
      end

      it "is not taken when it is broken, grows, runs or fetches" do
        bomb = %(<?xml version="1.0"?><!DOCTYPE x [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;">]><x>&b;</x>)
        {
          "no document" => /is no whole document/, document("x")[0, 60] => /is no whole document/,
          pack("a" => "b") => /as it is usually packed/,
          document("x", part.to_sym => bomb) => /declares entities/,
          document("x", part.to_sym => "<a><b></a>") => /is not whole/,
          document("x", part.to_sym => "<a>\xFF</a>") => /not written in UTF-8/,
          document("x", part.to_sym => "<a>#{"b" * 4_000_000}</a>") => /is too large/,
          document("x", "big.xml": "0" * 31_000_000) => /Unpacked it has more than 30 MB/,
          document("x", "word/vbaProject.bin": "x") => /holds a program/,
          document("x", "Basic/Standard/Module1.xml": "x") => /holds a program/,
          pack((0..600).to_h { |i| ["#{i}.xml", ""] }) => /more than 500 parts/, ("x" * 5_000_001) => /more than 5 MB/
        }.each { |bytes, sentence| expect(wrong(bytes, form)).to match([sentence]) }
      end
    end
  end

  it "finds a blank of a DOCX that its program has cut to pieces, in rows of a table and in a header" do
    header = %(<w:hdr xmlns:w="#{Documents::WORD}">#{word_paragraph("For {{ record.title }}")}</w:hdr>)
    bytes = a_docx(
      word_paragraph("Dear {", "{ record.bo", "at_owner }", "}, from {{ “Yenvo” | upcase }}"),
      "<w:tbl>", word_row("{% for x in record.ticket.boat %}", ""), word_row("{{ x.title }}", "{{ x.cost }}"),
      word_row("{% endfor %}", ""), "</w:tbl>", "word/header1.xml": header
    )
    paper, why = bound(bytes, described_class::Docx)
    expect(why).to be_nil
    filled = paper.fill(seen, rule_name: "r", today:)
    expect(paper.words(filled)).to eq(
      ["Dear Aldo *Ferrant*, from YENVO", "Hull | sanded", "€120", "Rudder <b>bold</b>", "€80.50", "For Quiet Hour"]
    )
  end

  it "does not take a DOCX that fetches a template or a picture when it is opened, or carries macros" do
    that = lambda do |type|
      link = %(<Relationship Type="http://x/#{type}" Target="https://x" TargetMode="External"/>)
      wrong(a_docx("<w:p/>", "word/_rels/a.rels": "<Relationships>#{link}</Relationships>"), described_class::Docx)
    end
    expect(that.call("attachedTemplate")).to match([/fetches something/])
    expect(that.call("hyperlink")).to be_nil
    macros = a_docx("<w:p/>", type: "application/vnd.ms-word.document.macroEnabled.main+xml")
    expect(wrong(macros, described_class::Docx)).to match([/no DOCX/])
  end

  it "does not take an ODT that fetches a picture when it is opened, or listens" do
    odt = described_class::Odt
    expect(wrong(an_odt(%(<draw:image xlink:href="https://x.example/a.png"/>)), odt)).to match([/fetches something/])
    expect(wrong(an_odt(%(<text:p><text:a xlink:href="https://x.example">x</text:a></text:p>)), odt)).to be_nil
    expect(wrong(an_odt(%(<script:event-listener/>)), odt)).to match([/holds a program/])
  end
end
