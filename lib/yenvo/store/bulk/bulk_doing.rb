# frozen_string_literal: true

module Yenvo
  module Store
    # What is done with each of many records: a field set, put on a list, taken off one, a rule started, or taken away.
    class BulkDoing < Base
      WHAT = %w[set list take_off rule trash].freeze
      VERBS = {"set" => :changed_by, "take_off" => :taken_away_by, "trash" => :taken_away_by}.freeze

      # What was done with one. did: what was and is, for undoing it; same: whether nothing was to be done.
      Done = Core::Value.define(:did, :same)

      attr_reader :kind

      # @param sight [Sight] of who does it
      # @param given [Hash] kind, what, and field and value, list or rule
      # @raise [Refused]
      def initialize(root, sight, given)
        super(root)
        @sight = sight
        @given = given
        @kind = sight.access.schema.kind(given["kind"]) || refuse("kind", "There is no such kind of record.")
        @what = given["what"]
        prepare
      end

      # @param row [Hash] of the table
      # @return [BulkDoing] the same again
      # @raise [Refused] when it does not fit the set-up any more
      def self.again(root, sight, row)
        value = row[:value] && JSON.parse(row[:value])
        plain = row.slice(:kind, :what, :field).transform_keys(&:to_s)
        new(root, sight, plain.merge("value" => value, row[:what] => value))
      end

      # @return [Hash] columns of the table
      def columns = {what: @what, field: @field&.key, value: JSON.generate(@value)}

      # @return [String] such as "Stage to Quoted"
      def words
        case @what
        when "set" then @value.nil? ? "#{@field.label} emptied" : "#{@field.label} to #{shown}"
        when "list" then "Put on #{@list.plural}"
        when "take_off" then "Taken off #{@kind.plural}"
        when "rule" then "The rule “#{@rule[:name]}” started"
        else "Taken away"
        end
      end

      # @param record [Integer]
      # @return [Done]
      # @raise [Refused, NotFound]
      def to(record, cause:)
        row = root.records.lock(record)
        may!(row)
        from = db[:journal].max(:id).to_i
        did = send(:"do_#{@what}", row, cause) or return Done.new(did: nil, same: true)
        Done.new(did: did.merge("entries" => entries(from, record, did)), same: false)
      end

      private

      def prepare
        case @what
        when "set" then prepare_field
        when "list" then prepare_list
        when "rule" then prepare_rule
        when "take_off" then refuse("what", "Only entries of lists are taken off.") unless @kind.about
        when "trash" then refuse("what", "Entries of lists are taken off their list.") if @kind.about
        else refuse("what", "There is no such change.")
        end
      end

      def prepare_field
        @field = root.records.settable!(@kind, @given["field"].to_s)
        @value = Core::Reading.value(@field, @given["value"], schema)
        refuse("value", "Title takes a few words; it cannot be empty.") if @field.key == "title" && @value.nil?
        refuse("value", Records.no_target(@field, @value)) if @field.type == "link" && @value && !@sight.record?(@value)
      rescue Core::Unreadable => error
        refuse("value", error.message)
      end

      def prepare_list
        @list = schema.kind(@value = @given["list"].to_s)
        return if @list&.about&.links_to == @kind.key

        refuse("list", "#{@list ? @list.plural : "That list"} takes no #{@kind.plural.downcase}. Choose another list.")
      end

      def prepare_rule
        refuse("rule", "Rules are started by leads and administrators. Ask one of them.") unless @sight.access.lead?
        @rule = root.rules.find!(@value = @given["rule"].to_i)
        return if @rule[:kind] == @kind.key && @rule[:state] == "on"

        refuse("rule", "“#{@rule[:name]}” is not on, or is about something else than #{@kind.plural.downcase}.")
      end

      # A record that is hidden is as if it were not there.
      def may!(row)
        raise NotFound, Records.gone(row[:id]) unless @sight.record?(row[:id])
        refuse("kind", "It is no #{@kind.noun}.") unless row[:kind] == @kind.key
        return if @sight.access.may?(VERBS.fetch(@what, :seen_by), @kind, row[:owner])

        refuse("record", "You may not change it; ask its owner or a lead.")
      end

      # @return [Hash, nil] what it did; nil when it was so already
      def do_set(row, cause)
        before = Image.of(row)
        after = root.records.change(row[:id], {@field.key => @value}, cause:)
        changed = (before.keys | after.keys).reject { |key| before[key] == after[key] }
        changed -= Core::Schema::Kind::KEPT_BY_YENVO
        return if changed.empty?

        {"was" => changed.to_h { |key| [key, before[key]] }, "is" => changed.to_h { |key| [key, after[key]] }}
      end

      def do_list(row, cause)
        return if root.list_entries.of(row[:id], @list.key).any?

        {"entry" => root.list_entries.put_on(row[:id], @list.key, cause:)["id"]}
      end

      def do_rule(row, cause)
        root.rules.start(@rule[:id], [row[:id]], cause:)
        {}
      end

      def do_take_off(row, cause)
        root.list_entries.take_off(row[:id], cause:)
        {}
      end

      def do_trash(row, cause)
        root.trash.remove(row[:id], cause:)
        {}
      end

      # What rules may have met.
      def entries(from, record, did)
        about = [record, did["entry"]].compact
        db[:journal].where(record_id: about).where { id > from }.order(:id).limit(20).select_map(:id)
      end

      def shown
        titles = @sight.titles((@field.type == "link") ? [@value] : []).transform_values { |row| row[:title] }
        Core::Show.value(@field, @value, schema, titles)
      end
    end
  end
end
