# frozen_string_literal: true

module Yenvo
  module Store
    # Builds the facts that core looks at: events with the records they link to, those that lead to them and their
    # tasks, all as they were right after each event.
    class Snapshots < Base
      # @param events [Array<Core::Event>] without a number (id nil) for what is only thought: those see what is now
      # @param today [Date, nil] the local day; that of each event when not given
      # @param desk [Core::Desk, nil] for the ways to assign that ask for turns and loads
      # @yieldparam event [Core::Event]
      # @yieldreturn [Array<Core::Need>] what to load for this event
      # @return [Array<Core::Facts>] in the same order
      def facts(events, today: nil, desk: nil, &needs)
        wanted = events.map(&needs)
        events = filled(events)
        linked = events.map { {} }
        all = wanted.uniq.flatten
        (all.map { |need| need.chain.size }.max || 0).times { |level| hop(events, wanted, linked, level) }
        related = all.any?(&:over) ? Related.new(root, self).load(events, wanted, linked) : []
        events.each_with_index.map { |event, i| Core::Facts.new(event, linked[i], related[i] || {}, today:, desk:) }
      end

      # Images as they were right after entries.
      # @param wanted [Array<Array(Integer, Integer, Integer)>] place of the event, record wanted, number of the entry
      #   or nil
      # @return [Hash] by [record, entry] and by record
      def fetch(wanted)
        return {} if wanted.empty?

        ids = wanted.map { |_, id, _| id }.uniq
        rows = ids.each_slice(2_000).flat_map { |some| rows_of(some) }.to_h { |row| [row[:id], row] }
        images = rows.transform_values { |row| Image.of(row).merge!("kind" => row[:kind]) }
        wanted.each do |_, id, entry|
          past = entry && rows[id] && rows[id][:entry_id] > entry
          images[[id, entry]] ||= (as_of(id, entry) if past) || images[id]
        end
        images
      end

      def rows_of(ids) = db[:records].select(*Image::COLUMNS).where(id: ids).all

      # @return [Integer, nil] the record at the end of a chain of links
      def self.reach(event, chain, linked)
        chain.inject([event.record_id, event.after]) do |(_, image), link|
          (id = image && image[link]) ? [id, linked[id]] : [nil, nil]
        end[0]
      end

      private

      # What happened to a task, and a timer, brings no image of its record; it is that of the moment. What went before
      # a wait stands with its timer.
      # @return [Array<Core::Event>]
      def filled(events)
        bare = events.select { |event| event.after.nil? }
        return events if bare.empty?

        images = fetch(bare.map { |event| [nil, event.record_id, event.id] })
        events.map do |event|
          if event.after
            event
          else
            event.seen_as((images[[event.record_id, event.id]] || {}).except("kind"))
          end
        end
      end

      # Follows one more link of every chain.
      def hop(events, wanted, linked, level)
        found =
          events.each_index.flat_map do |i|
            ids =
              wanted[i].filter_map do |need|
                (need.chain.size > level) && self.class.reach(events[i], need.chain[0..level], linked[i])
              end
            ids.uniq.reject { |id| linked[i].key?(id) }.map { |id| [i, id, events[i].id] }
          end
        images = fetch(found)
        found.each do |i, id, entry|
          image = images[[id, entry]]
          linked[i][id] = image if image
        end
      end

      # The record as it stands serves every event since its latest entry; older events need the journal.
      def as_of(id, entry)
        row =
          db[:journal].where(record_id: id).where { Sequel[:id] <= entry }.exclude(after: nil).reverse(:id)
            .select(:after, :kind).first
        row && JSON.parse(row[:after]).merge!("kind" => row[:kind])
      end
    end
  end
end
