# frozen_string_literal: true

module Yenvo
  module Core
    module Triggers
      # The record is put on a list.
      class PutOnList < Trigger
        def self.takes = {"lists" => :lists}
        def self.needs = ["lists"]
        def self.short = "list"
        def self.words = "is put on a list"

        def what = "put_on_list"
        def check(problems) = check_known("lists", known, "lists", problems)
        def watch_keys = some("lists").map { |list| ["list", list] }
        def sample_detail = {"list" => some("lists").first}

        def to_proc
          lists = some("lists")
          ->(facts) { facts.event.what == "put_on_list" && lists.include?(facts.event.detail["list"]) }
        end

        def sentence = "Put on #{labels("lists", known)}"
        def imagine(image) = [image, image]

        def miss(facts) =
          if facts.event.what == "put_on_list"
            "It was put on #{known[facts.event.detail["list"]] || "another list"}"
          else
            "It was not put on a list"
          end

        private

        def known = schema.kinds.values.select(&:list).to_h { |kind| [kind.list, kind.plural] }
      end
    end
  end
end
