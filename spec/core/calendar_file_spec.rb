# frozen_string_literal: true

RSpec.describe Yenvo::Core::CalendarFile do
  let(:today) { Date.new(2026, 11, 27) }

  def event(*lines) = ["BEGIN:VEVENT", "UID:1", *lines, "END:VEVENT"]
  def file(*events) = ["BEGIN:VCALENDAR", "VERSION:2.0", *events.flatten, "END:VCALENDAR", ""].join("\r\n")
  def read(*events) = described_class.read(file(*events), today:)
  def days(*events) = read(*events).stretches.map { |one| [one.from.iso8601, one.to.iso8601, one.name, one.yearly] }

  def refusal(text) = begin
    described_class.read(text, today:) && nil
  rescue
    $!.message
  end

  it "takes whole days, the end being the first day after it, and leaves out what takes part of a day" do
    found = read(
      event("DTSTART;VALUE=DATE:20261224", "DTEND;VALUE=DATE:20270102", "SUMMARY:Workshop\\, shut"),
      event("DTSTART;VALUE=DATE:20270311", "SUMMARY:Fair"),
      event("DTSTART;VALUE=DATE:20270401", "DURATION:P1W", "SUMMARY:Rest"),
      event("DTSTART:20270311T090000Z", "DTEND:20270311T120000Z", "SUMMARY:Meeting"),
      event("DTSTART;VALUE=DATE:20270312", "SUMMARY:Off", "STATUS:CANCELLED")
    )
    expect(found.stretches.map { |one| [one.from.iso8601, one.to.iso8601, one.name] }).to eq(
      [
        ["2026-12-24", "2027-01-01", "Workshop, shut"], ["2027-03-11", "2027-03-11", "Fair"],
        ["2027-04-01", "2027-04-07", "Rest"]
      ]
    )
    expect(found.left_out).to eq(1)
  end

  it "keeps what comes each year as that, and works other recurrences out for some years" do
    yearly = event("DTSTART;VALUE=DATE:20200624", "RRULE:FREQ=YEARLY", "SUMMARY:Mid\r\n summer")
    expect(days(yearly)).to eq([["2020-06-24", "2020-06-24", "Midsummer", true]])
    monthly = event(
      "DTSTART;VALUE=DATE:20270104", "RRULE:FREQ=MONTHLY;BYDAY=1MO;COUNT=4", "EXDATE;VALUE=DATE:20270201",
      "RDATE;VALUE=DATE:20270210", "SUMMARY:Stock"
    )
    expect(days(monthly).map(&:first)).to eq(%w[2027-01-04 2027-02-10 2027-03-01 2027-04-05])
    thanks = event("DTSTART;VALUE=DATE:19990101", "RRULE:FREQ=YEARLY;BYMONTH=11;BYDAY=4TH", "SUMMARY:Thanks")
    expect(days(thanks).map(&:first)).to eq(
      %w[2025-11-27 2026-11-26 2027-11-25 2028-11-23 2029-11-22 2030-11-28 2031-11-27]
    )
  end

  it "bounds what recurrences come to, in work too" do
    began = Process.clock_gettime(Process::CLOCK_PROCESS_CPUTIME_ID)
    expect(refusal(file(event("DTSTART;VALUE=DATE:10240101", "RRULE:FREQ=DAILY")))).to include("a calendar holds 400")
    expect(refusal(file(event("DTSTART;VALUE=DATE:10240101", "RRULE:FREQ=DAILY;UNTIL=30240101")))).to include("400")
    expect(refusal(file(event("DTSTART;VALUE=DATE:20270101", "RRULE:FREQ=SECONDLY")))).to match(
      /recurrence of the event that begins on line 3 must have a fitting value for FREQ/
    )
    many = Array.new(2_100) { |i| event("DTSTART;VALUE=DATE:20270101", "SUMMARY:#{i}") }
    expect(refusal(file(*many))).to eq("The file has more than 2,000 events.")
    expect(refusal("BEGIN:VCALENDAR\r\n#{"X:#{"y" * 1_100_000}"}")).to include("at most 1 MB")
    expect(Process.clock_gettime(Process::CLOCK_PROCESS_CPUTIME_ID) - began).to be < 3
  end

  it "names the line of what is wrong" do
    good = event("DTSTART;VALUE=DATE:20270101")
    {
      "" => "Line 1 should be BEGIN:VCALENDAR; this is no calendar file.",
      "hello" => "Line 1 should be BEGIN:VCALENDAR; this is no calendar file.",
      file => "There is no event in the file.",
      file(good, event("DTSTART;VALUE=DATE:20270101", "this is not a line")) =>
        "Line 10 does not fit a calendar file: \"this is not a line\".",
      file(good, event("SUMMARY:Nothing")) => "The event that begins on line 7 has no DTSTART.",
      file(event("DTSTART;VALUE=DATE:20271345")) =>
        /\AThe event that begins on line 3 cannot be read: ".+"\.\z/,
      file(event("DTSTART;VALUE=DATE:20270103", "DTEND;VALUE=DATE:20270102")) =>
        "The event that begins on line 3 takes -1 days; it should take 1 to 366.",
      file(good).sub("END:VCALENDAR\r\n", "") => "The file ends within VCALENDAR; some of it may be missing.",
      "BEGIN:VCALENDAR\nBEGIN:VEVENT\nEND:VTODO\nEND:VCALENDAR" =>
        "Line 3 does not fit a calendar file: \"END:VTODO\".",
      "BEGIN:VCALENDAR\n\xFF".b => "The file is no text (UTF-8), so no calendar file."
    }.each { |text, words| expect(refusal(text)).to match(words) }
  end

  it "never fails otherwise than with a sentence, whatever the file holds" do
    seed = file(event("DTSTART;VALUE=DATE:20270101", "RRULE:FREQ=WEEKLY;COUNT=3", "EXDATE;VALUE=DATE:20270108"))
    random = Random.new(12)
    300.times do
      text = seed.dup
      3.times { text[random.rand(text.size)] = [*"0".."9", ":", ";", "=", "\n", "é", "X"].sample(random:) }
      begin
        described_class.read(text, today:)
      rescue Yenvo::Core::Unreadable => error
        expect(error.message).to end_with(".")
      end
    end
  end
end
