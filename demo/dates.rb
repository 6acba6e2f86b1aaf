# frozen_string_literal: true

module Demo
  # Moves every date and moment in a text by whole weeks, by the wall clock, so that a Tuesday at nine stays one.
  class Dates
    MOMENT = /\d{4}-\d{2}-\d{2}[Tt]\d{2}:\d{2}:\d{2}(?:\.\d+)?[Zz]/
    DAY = /(?<![\d-])\d{4}-\d{2}-\d{2}(?![\d-])/
    NAMES = "Mon|Tue|Wed|Thu|Fri|Sat|Sun"
    MONTHS = "Jan|Feb|Mar|Apr|May|Jun|Jul|Aug|Sep|Oct|Nov|Dec"
    WORDS = /\b(?:#{NAMES}) \d{1,2} (?:#{MONTHS}) \d{4}\b/
    ALL = /#{MOMENT}|#{DAY}|#{WORDS}/

    # @param zone [Yenvo::Core::Zone]
    # @param weeks [Integer]
    def initialize(zone, weeks)
      @zone = zone
      @days = weeks * 7
      @known = Hash.new { |known, text| known[text] = moved(text) }
    end

    # @param text [String]
    # @return [String]
    def move(text) = @days.zero? ? text : text.gsub(ALL) { |found| @known[found] }

    # @param moment [Time]
    # @return [Time] the same time of the wall clock so many weeks later
    def moment(moment)
      local = @zone.local(moment)
      seconds = local.sec + local.subsec
      @zone.at(local.to_date + @days, (local.hour * 60) + local.min) + seconds
    end

    private

    def moved(text)
      case text
      when /\A#{MOMENT}\z/o then written(text)
      when /\A#{DAY}\z/o then (Date.iso8601(text) + @days).iso8601
      else Yenvo::Core::Show.date(Date.parse(text) + @days)
      end
    rescue ArgumentError
      # Some number that only looks like a date.
      text
    end

    # In the form in which it stood there.
    def written(text)
      digits = text[/\.(\d+)/, 1].to_s.size
      found = moment(Time.iso8601(text.upcase)).utc.strftime("%Y-%m-%dT%H:%M:%S#{".%#{digits}N" if digits.positive?}Z")
      (text == text.downcase) ? found.downcase : found
    end
  end
end
