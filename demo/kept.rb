# frozen_string_literal: true

require "digest"
require "fileutils"
require "json"
require "zlib"
require_relative "dates"

module Demo
  # The story of the six months as the loader once lived it, kept in a file: one line for each row of the database, of
  # a Monday morning. Put back, all its days are moved by whole weeks, so that it ends in the week of loading.
  class Kept
    PATH = File.join(__dir__, "story.jsonl.gz")
    FORMAT = "yenvo-story/1"
    # What fills itself, and what belongs to one loading alone.
    LEFT_OUT = %i[schema_info account_active_session_keys counts failed_sign_ins waiting stale].freeze
    AT_ONCE = 500

    # What the story is made from: how it is told, what it tells of, and the tables.
    MADE_FROM = %w[{agenda,names,outgoing,post,story}.rb yard.yml {rules,kits}/*.yml papers/*
      ../db/migrations/*.rb].freeze

    # @return [String] a digest of that
    def self.fingerprint
      files = Dir[*MADE_FROM.map { |path| File.join(__dir__, path) }].sort_by { |file| File.basename(file) }
      Digest::SHA256.hexdigest(files.map { |file| "#{File.basename(file)}\0#{File.read(file)}" }.join("\0"))
    end

    # @return [Boolean] whether there is one, made from what there is now
    def self.fits? = File.exist?(PATH) && head["fingerprint"] == fingerprint

    # @return [Hash] format, fingerprint and at (the moment at which it ends)
    def self.head = Zlib::GzipReader.open(PATH) { |file| JSON.parse(file.gets) }

    # @param root [Yenvo::Store::Root]
    def initialize(root)
      @root = root
    end

    # @param at [Time] the moment at which the story ends
    # @param path [String]
    def write(at:, path: PATH)
      Zlib::GzipWriter.open(path, Zlib::BEST_COMPRESSION) do |file|
        # The same rows always give the same file.
        file.mtime = at
        line(file, "format" => FORMAT, "fingerprint" => self.class.fingerprint, "at" => plain(at))
        (@root.db.tables - LEFT_OUT).sort.each { |table| rows(table, file) }
        papers { |name, text| line(file, "file" => name, "text" => text) }
      end
    end

    # Puts the story back into an empty database.
    # @param now [Time] the moment of loading
    # @param path [String]
    # @return [Time] the moment at which it ends: the Monday morning of that week
    def put_back(now:, path: PATH)
      Zlib::GzipReader.open(path) do |file|
        ends = Time.iso8601(JSON.parse(file.gets)["at"])
        zone = Yenvo::Core::Zone.new(zone_name)
        @dates = Dates.new(zone, ((zone.date_of(now) - zone.date_of(ends)) / 7).floor)
        @root.db.transaction { fill(file) }
        @dates.moment(ends)
      end
    end

    private

    def line(file, plain) = file.puts(JSON.generate(plain))
    def zone_name = Yenvo::Store::HousePlan.file(Yard::SOURCE)["settings"]["zone"]

    def plain(value)
      case value
      when Time then Yenvo::Core::Reading.moment(value)
      when Date then value.iso8601
      when String then (value.encoding == Encoding::BINARY) ? [value].pack("m0") : value
      else value
      end
    end

    def rows(table, file)
      columns = @root.db[table].columns
      line(file, "table" => table, "columns" => columns)
      @root.db[table].order(*columns.first(3)).select(*columns).each do |row|
        line(file, row.values_at(*columns).map { |value| plain(value) })
      end
    end

    def papers
      # Papers are printed when the story is put back.
      @root.db[:attachments].exclude(file: nil).order(:id).select_map(:file).each do |name|
        yield(name, File.read(File.join(@root.files, name[0, 2], name)))
      end
    end

    def fill(file)
      @root.db.run "SET FOREIGN_KEY_CHECKS=0"
      LEFT_OUT.each { |table| @root.db[table].delete unless table == :schema_info }
      batch = []
      file.each_line do |text|
        plain = JSON.parse(@dates.move(text))
        next batch << plain if plain.is_a?(Array) && batch.size < AT_ONCE

        flush(batch)
        plain.is_a?(Array) ? batch << plain : begin_with(plain)
      end
      flush(batch)
      @root.db.run "SET FOREIGN_KEY_CHECKS=1"
    end

    def begin_with(plain)
      return paper(plain) if plain.key?("file")

      @table = plain["table"].to_sym
      @columns = plain["columns"].map(&:to_sym)
      types = @root.db.schema(@table).to_h
      @read = @columns.map { |column| READ[types.dig(column, :type)] }
      @root.db[@table].delete
    end

    READ = {
      datetime: ->(text) { text && Time.iso8601(text) }, date: ->(text) { text && Date.iso8601(text) },
      blob: ->(text) { text && Sequel.blob(text.unpack1("m0")) }
    }.freeze
    private_constant :READ

    def flush(batch)
      return if batch.empty?

      rows = batch.map { |row| row.zip(@read).map { |value, read| read ? read.call(value) : value } }
      @root.db[@table].import(@columns, rows)
      batch.clear
    end

    # Days have one digit or two, so that a paper may be of another size.
    def paper(plain)
      path = File.join(@root.files, plain["file"][0, 2], plain["file"])
      FileUtils.mkdir_p(File.dirname(path))
      File.write(path, plain["text"])
      @root.db[:attachments].where(file: plain["file"]).update(size: plain["text"].bytesize)
    end
  end
end
